import type { BondedResult, UplinkSurvey } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Figure } from "../../ui/Figure";
import { Overlay } from "../../ui/Overlay";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { evidenceSentence, missingSentence, oddSentence, pathSentence } from "../../words/survey";
import { percent, rate, rateText } from "../../words/units";
import { ReserveField } from "./ReserveField";
import type { SurveyScope } from "./scope";
import { UplinkForm } from "./UplinkForm";

/** One uplink's number, how sure it is, and what makes it surer. */
export function VerdictPanel({ survey, siblings, scope }: { survey: UplinkSurvey; siblings: Uplink[]; scope: SurveyScope }) {
  const { uplink, result, path, bonded } = survey;
  const [editing, setEditing] = useState(false);
  const known = result.sustainableBps !== null && result.usableBps !== null;
  const byRule = rate((result.sustainableBps ?? 0) * (1 - result.ruleReserve));
  const missing = missingSentence(result);
  const odd = oddSentence(result);
  return (
    <Panel title={uplink.name} aside={<Button onPress={() => setEditing(true)}>Edit</Button>}>
      {uplink.note ? <Words kind="faded">{uplink.note}</Words> : null}
      {known ? (
        <View className="flex-row flex-wrap justify-between gap-4">
          <Figure label="Usable at show time" shown={rate(result.usableBps ?? 0)} size="large" tone="text-deep" testID="usable" />
          <Figure label="Sustainable" shown={rate(result.sustainableBps ?? 0)} size="large" testID="sustainable" />
        </View>
      ) : null}
      <Words testID="evidence">{evidenceSentence(result)}</Words>
      {missing ? (
        <Words kind="strong" testID="missing">
          {missing}
        </Words>
      ) : null}
      {known ? (
        <Words kind="faded">{`${percent(result.reserve)} of it is kept free${result.reserve === result.ruleReserve ? "" : `, set by hand; the evidence asks for ${percent(result.ruleReserve)}, which would leave ${byRule.value} ${byRule.unit}`}.`}</Words>
      ) : null}
      {result.reservedBps > 0 ? (
        <Words kind="faded">{`${rateText(result.reservedBps)} ${result.reservedBps === 1 ? "is" : "are"} set aside for others during the show; a test taken while nothing was counts that much less.`}</Words>
      ) : null}
      {odd ? <Words>{odd}</Words> : null}
      {bonded ? <Members bonded={bonded} /> : null}
      {result.total > 0 ? <Words kind="faded">{pathSentence(path)}</Words> : null}
      {survey.busy ? <Words kind="strong">A feed is on this uplink now.</Words> : null}
      {known ? <ReserveField uplinkId={uplink.id} result={result} /> : null}
      <Overlay title={`Edit ${uplink.name}`} open={editing} onClose={() => setEditing(false)}>
        <UplinkForm venueId={scope.venueId} eventId={uplink.eventId} uplink={uplink} siblings={siblings} onDone={() => setEditing(false)} />
      </Overlay>
    </Panel>
  );
}

/** What a bonded group is made of, and what is left of it. */
function Members({ bonded }: { bonded: BondedResult }) {
  const unknown = bonded.members.filter((m) => m.sustainableBps === null).map((m) => m.name);
  return (
    <View>
      {bonded.members.map((m) => (
        <Row key={m.id} label={m.name}>
          {m.sustainableBps === null ? "not measured" : rateText(m.sustainableBps)}
        </Row>
      ))}
      {bonded.togetherBps === null ? (
        <Words className="pt-2">{`Unknown until ${unknown.join(" and ")} ${unknown.length === 1 ? "is" : "are"} measured.`}</Words>
      ) : (
        <>
          <Row label="Together, less 5 %">{rateText(bonded.togetherBps)}</Row>
          <Row label={`Without ${bonded.strongest}`}>{rateText(bonded.withoutStrongestBps ?? 0)}</Row>
        </>
      )}
    </View>
  );
}
