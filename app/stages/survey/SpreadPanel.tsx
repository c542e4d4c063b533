import type { UplinkSurvey } from "@ukaza/contract/survey";
import { useState } from "react";
import { View } from "react-native";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { rateText } from "../../words/units";
import { DistributionChart } from "./DistributionChart";
import { HourChart } from "./HourChart";

const views = [
  { value: "hours", word: "By hour" },
  { value: "days", word: "By day" },
  { value: "spread", word: "Distribution" },
] as const;

/** How the tests of an uplink spread: over the hours of the day, over the days, over the rates. */
export function SpreadPanel({ survey }: { survey: UplinkSurvey }) {
  const [view, setView] = useState<(typeof views)[number]["value"]>("hours");
  if (survey.hours.length === 0) return null;
  return (
    <Panel title="How the rate spreads">
      <Choice label="View" value={view} options={views} onChange={setView} />
      {view === "hours" ? <HourChart survey={survey} /> : null}
      {view === "days" ? <Days survey={survey} /> : null}
      {view === "spread" ? <DistributionChart survey={survey} /> : null}
    </Panel>
  );
}

const DAYS_SHOWN = 60;

function Days({ survey }: { survey: UplinkSurvey }) {
  const { days } = survey;
  return (
    <View role="list">
      {days.slice(0, DAYS_SHOWN).map((d) => (
        <View key={d.day} role="listitem" className="gap-1 border-b border-rule py-2">
          <View className="flex-row justify-between gap-3">
            <Words>
              {new Intl.DateTimeFormat("en-GB", {
                weekday: "short",
                day: "numeric",
                month: "short",
                year: "numeric",
                timeZone: "UTC",
              }).format(new Date(d.day))}
            </Words>
            <Words kind="strong">{d.leastNearBps === null ? "none near show time" : `least ${rateText(d.leastNearBps)}`}</Words>
          </View>
          <Words kind="small">{`${d.count === 1 ? "1 test" : `${d.count} tests`}, ${d.nearShow} near show time; least of the day ${rateText(d.leastBps)}, middle ${rateText(d.medianBps)}`}</Words>
        </View>
      ))}
      {days.length > DAYS_SHOWN ? <Words kind="small">{`The newest ${DAYS_SHOWN} of ${days.length} days.`}</Words> : null}
    </View>
  );
}
