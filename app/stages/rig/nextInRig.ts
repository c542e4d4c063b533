import type { RigNow } from "@ukaza/contract/rig";

/** The one next thing in Rig: a sentence and a button, which either goes somewhere or orders something. */
export interface NextInRig {
  sentence: string;
  word: string | null;
  go?: "fit" | "lineup" | "code";
  order?: "broadcast" | "configure";
}

const handedTo: Record<RigNow["setBy"], (encoder: string) => string> = {
  "one field": (e) => `Give settings, addresses and keys to the ${e}.`,
  "two fields": (e) => `Give settings, addresses and keys to the ${e}.`,
  "settings file": (e) => `The ${e} takes settings, addresses and keys as a file: hand it over the network.`,
  remote: (e) => `The ${e} is told from here what it is to hold.`,
  code: (e) => `Lay out settings, addresses and keys: the ${e} comes for them itself.`,
  "by hand": (e) => `Nothing reaches the ${e} from here. Type what stands below into its own page, then say so.`,
};

/** What is to be done next between platform and encoder. */
export function nextInRig(rig: RigNow, fitChosen: boolean): NextInRig {
  const encoder = rig.encoderName.toLowerCase();
  const byHand = rig.setBy === "by hand";
  if (!fitChosen) return { sentence: "No settings have been chosen yet.", word: "Go to Fit", go: "fit" };
  if (rig.ingests.length === 0 && (rig.account === "none" || rig.account === "waiting"))
    return { sentence: `${rig.platformName} has not let Ukaza in yet. Connect the account below; it is done once.`, word: null };
  if (rig.toType.some((t) => !rig.ingests.some((i) => i.role === t.role)))
    return {
      sentence: `Nothing reaches ${rig.platformName} from here. Copy address and key from its own page into the fields below.`,
      word: null,
    };
  if (rig.ingests.length === 0)
    return {
      sentence: `Create the broadcast on ${rig.platformName}: it hands out addresses and keys. Nothing is typed, nothing is public.`,
      word: "Create the broadcast",
      order: "broadcast",
    };
  if (rig.paired === false)
    return {
      sentence: `The ${encoder} is let in by a code: ask for one on the encoder, and approve it here.`,
      word: "Approve a code",
      go: "code",
    };
  if (!rig.configuredAt)
    return { sentence: handedTo[rig.setBy](encoder), word: byHand ? "All of it is typed" : "Configure the encoder", order: "configure" };
  if (rig.readBack && !rig.readBack.equal)
    return byHand
      ? {
          sentence: `${rig.platformName} receives something else than was to be typed. Correct what differs below, then read again.`,
          word: null,
        }
      : {
          sentence: "The encoder holds something else than it was told. Configure it again, or see below what differs.",
          word: "Configure the encoder again",
          order: "configure",
        };
  return {
    sentence:
      byHand && rig.toType.length > 0
        ? `Nothing reaches encoder or platform from here, so nothing of this can be checked: compare once more what was typed.`
        : byHand && !rig.readBack
          ? `Whether it was typed right shows as soon as ${rig.platformName} receives: start in Line-up, then read it here.`
          : byHand
            ? `${rig.platformName} receives exactly what was to be typed.`
            : "The encoder holds exactly what it was told.",
    word: "Go to Line-up",
    go: "lineup",
  };
}
