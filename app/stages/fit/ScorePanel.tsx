import type { FitAnswer, Score } from "@ukaza/contract/fit";
import type { Settings } from "@ukaza/contract/settings";
import { codecLevel } from "@ukaza/core/media/levels";
import { feedLoad } from "@ukaza/core/media/load";
import { View } from "react-native";
import { Figure } from "../../ui/Figure";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { valueText } from "../../words/findings";
import { gainSentence, whySentence } from "../../words/fit";
import { percent, rate, rateText } from "../../words/units";

/** The picture score in its parts, what binds, and what lifting each limit would give. */
export function ScorePanel({ score, settings, answer }: { score: Score; settings: Settings; answer: FitAnswer & { kind: "fit" } }) {
  const load = feedLoad(settings);
  const level = codecLevel(settings);
  const gains = answer.gains.map((g) => gainSentence(g.limit, g.q)).filter((s): s is string => s !== null);
  return (
    <Panel title="Picture">
      <View className="flex-row flex-wrap justify-between gap-4">
        <Figure label="Picture score" shown={{ value: score.q.toFixed(0), unit: "of 100" }} size="large" tone="text-deep" testID="score" />
        <Figure label="Load of one feed" shown={rate(load.loadBps)} size="large" />
      </View>
      <View>
        <Row label="Clean (bitrate for this picture)">{percent(score.fidelity)}</Row>
        <Row label="Detail (size against the camera's)">{percent(score.detail)}</Row>
        <Row label="Movement (frame rate against the camera's)">{percent(score.motion)}</Row>
        <Row label="Headers and packets">{`${rateText(load.overheadBps)} (${percent(load.overheadShare, 1)})`}</Row>
        {level ? <Row label={`${valueText("codec", settings.codec)} level needed`}>{level}</Row> : null}
      </View>
      <Words testID="why">{`Best plan: ${whySentence(answer)}`}</Words>
      {gains.map((g) => (
        <Words key={g} kind="faded">
          {g}
        </Words>
      ))}
      <Words kind="faded">
        {answer.oneMoreMbpsQ >= 0.05
          ? `One more Mb/s on every line would add ${answer.oneMoreMbpsQ.toFixed(1)}.`
          : "One more Mb/s would add nothing."}
      </Words>
      <Words kind="small">The score is a rule of thumb: it ranks settings, it does not measure how a picture is seen.</Words>
    </Panel>
  );
}
