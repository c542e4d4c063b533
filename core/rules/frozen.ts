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
