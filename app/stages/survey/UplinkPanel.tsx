import type { Event } from "@ukaza/contract/event";
import type { UplinkSurvey } from "@ukaza/contract/survey";
import { View } from "react-native";
import { Figure } from "../../ui/Figure";
import { Panel } from "../../ui/Panel";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { evidenceSentence, pathSentence } from "../../words/survey";
import { percent, rate } from "../../words/units";
import { AddMeasurements } from "./AddMeasurements";
import { HourChart } from "./HourChart";
import { MeasurementList } from "./MeasurementList";
import { ReserveField } from "./ReserveField";

/** One uplink: its number, why, the chart by hour, and every test. */
export function UplinkPanel({ survey, event }: { survey: UplinkSurvey; event: Event }) {
  const wide = useWide();
  const { uplink, result, path } = survey;
  const known = result.sustainableBps !== null && result.usableBps !== null;
  return (
    <View className={wide ? "flex-row items-start gap-4" : "gap-4"}>
      <View className="min-w-0 flex-1 gap-4">
        <Panel title={`${uplink.name} (${uplink.kind})`}>
          {uplink.note ? <Words kind="faded">{uplink.note}</Words> : null}
          {known ? (
            <View className="flex-row flex-wrap justify-between gap-4">
              <Figure label="Usable at show time" shown={rate(result.usableBps ?? 0)} size="large" tone="text-deep" testID="usable" />
              <Figure label="Sustainable" shown={rate(result.sustainableBps ?? 0)} size="large" testID="sustainable" />
            </View>
          ) : null}
          <Words testID="evidence">{evidenceSentence(result)}</Words>
          {known ? (
            <Words kind="faded">{`${percent(result.reserve)} of it is kept free${result.reserve === result.ruleReserve ? "" : `, set by hand; the evidence asks for ${percent(result.ruleReserve)}, which would leave ${rate((result.sustainableBps ?? 0) * (1 - result.ruleReserve)).value} Mb/s`}.`}</Words>
          ) : null}
          {result.total > 0 ? <Words kind="faded">{pathSentence(path)}</Words> : null}
          {known ? <ReserveField uplinkId={uplink.id} eventId={event.id} result={result} /> : null}
        </Panel>
        {survey.measurements.length > 0 ? (
          <Panel title="Rate by hour of day">
            <HourChart survey={survey} timeZone={event.timeZone} />
          </Panel>
        ) : null}
      </View>
      <View className={wide ? "w-[420px] gap-4" : "gap-4"}>
        <AddMeasurements uplinkId={uplink.id} eventId={event.id} timeZone={event.timeZone} />
        <MeasurementList survey={survey} event={event} />
      </View>
    </View>
  );
}
