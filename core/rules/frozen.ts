import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";

type Frozen = RuleSheet["lifecycle"]["freezes"][number]["fields"][number];

/** Settings that a frozen field of a rule sheet stands for. */
export const frozenSettings: Record<Frozen, readonly (keyof Settings)[]> = {
  codec: ["codec", "profile"],
  size: ["width", "height"],
  frameRate: ["frameRate"],
  videoBps: ["videoBps"],
  audio: ["audioBps", "audioHz", "audioChannels"],
  keyframe: ["keyframeS"],
  protocol: ["protocol"],
};

/** Fields that a sheet keeps as they are once the broadcast is public; how it is sent can never change while it is sent. */
export function frozenFields(sheet: RuleSheet): (keyof Settings)[] {
  const fields = new Set(sheet.lifecycle.freezes.flatMap((f) => f.fields));
  return [...new Set(["protocol" as const, ...[...fields].flatMap((field) => frozenSettings[field])])];
}
