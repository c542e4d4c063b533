import type { Event } from "@ukaza/contract/event";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import type { Survey } from "@ukaza/contract/survey";
import type { BoldPlan } from "@ukaza/core/fit/boldness";
import { type ForecastPlan, type ForecastQuestion, type ForecastResult, forecastPlan } from "@ukaza/core/fit/forecast";
import { forecastLine, forecastRules } from "@ukaza/core/fit/forecastLine";
import { plannedOf } from "@ukaza/core/fit/planFrom";
import { useEffect, useMemo, useRef, useState } from "react";
import { View } from "react-native";
import type { ApiError } from "../../data/api";
import { useSurvey } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Figure } from "../../ui/Figure";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { ProgressBar } from "../../ui/ProgressBar";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { boldnessWord, chanceText, restsOn, troubleText } from "../../words/forecast";
import { servedSentence } from "../../words/plan";
import type { ForecastSaid } from "../../workers/forecastMessage";
import { runForecast } from "../../workers/runForecast";
import { usePlanJob } from "../../workers/usePlanJob";
import { samePlan } from "./inHand";

interface Props {
  event: Event;
  problem: FitProblem;
  now: FitNow;
  /** The plan in hand. */
  plan: WholePlan;
  onTake: (plan: WholePlan) => void;
}

/** The same evenings for everybody who looks: a forecast can be repeated. */
const SEED = 1;

/** A cautious, a balanced and a bold plan, and what becomes of each on thousands of evenings like those that were measured. */
export function ForecastPanel({ event, ...props }: Props) {
  const { data: survey } = useSurvey(`/events/${event.id}/survey`);
  const { found, error } = usePlanJob("bold", { kind: "bold", problem: props.problem, sustainableBps: props.now.sustainableBps });
  if (!survey) return null;
  if (!found)
    return (
      <Panel title="Forecast">
        {error ? <ProblemNote error={error} /> : <Words kind="faded">Working out a cautious and a bold plan…</Words>}
      </Panel>
    );
  return (
    <Forecasts
      key={JSON.stringify([props.problem.uplinks, found.plans, plannedOf(props.plan)])}
      event={event}
      survey={survey}
      plans={found.plans}
      {...props}
    />
  );
}

interface Row {
  title: string;
  plan: WholePlan | null;
  /** Its place among the plans that are forecast; null: a line of it has no tests. */
  at: number | null;
}

function Forecasts({ event, survey, plans, plan: inHand, now, onTake }: Props & { survey: Survey; plans: BoldPlan[] }) {
  const wide = useWide();
  const { rows, question } = useMemo(() => asked(event, survey, plans, inHand), [event, survey, plans, inHand]);
  const [said, setSaid] = useState<ForecastSaid | null>(null);
  const [running, setRunning] = useState(false);
  const [error, setError] = useState<ApiError | null>(null);
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);
  const name = (id: string) => now.uplinkNames[id] ?? id;
  const run = () => {
    setSaid(null);
    setError(null);
    setRunning(true);
    const heard = (next: ForecastSaid) => {
      setSaid(next);
      if (next.done >= forecastRules.shows) setRunning(false);
    };
    const failed = (failure: ApiError) => {
      setError(failure);
      setRunning(false);
    };
    stop.current = runForecast({ question, shows: forecastRules.shows }, heard, failed);
  };
  const halt = () => {
    stop.current?.();
    setRunning(false);
  };
  return (
    <Panel title="Forecast">
      <Words kind="small">A cautious plan keeps 15 % more of each line free, a bold one 15 % less.</Words>
      <View role="list" className={wide ? "flex-row flex-wrap gap-3" : "gap-3"}>
        {rows.map(({ title, plan, at }) => {
          const result = said && at !== null ? said.results[at] : undefined;
          return (
            <View
              key={title}
              role="listitem"
              aria-label={title}
              className={`gap-1 border-l-4 border-l-rule pl-3 ${wide ? "min-w-[160px] flex-1" : ""}`}
            >
              <Words kind="strong">{title}</Words>
              {plan ? (
                <>
                  <Words>{`${servedSentence(plan)} ${plan.points.toFixed(0)} points.`}</Words>
                  {result && result.shows > 0 ? (
                    <Outcome result={result} backup={plan.destinations.some((d) => d.feeds.length > 1)} name={name} />
                  ) : null}
                  {at === null ? <Words kind="small">A line of it has no tests near the show's hours.</Words> : null}
                  {now.fixed || samePlan(plan, inHand) ? null : (
                    <Button className="self-start" onPress={() => onTake(plan)}>
                      {`Take up the ${title.toLowerCase()} plan`}
                    </Button>
                  )}
                </>
              ) : (
                <Words kind="faded">Nothing fits with so much kept free.</Words>
              )}
            </View>
          );
        })}
      </View>
      {running ? (
        <>
          <ProgressBar share={(said?.done ?? 0) / forecastRules.shows} label={`${said?.done ?? 0} of ${forecastRules.shows} shows`} />
          <Button className="self-start" onPress={halt}>
            Stop the forecast
          </Button>
        </>
      ) : question.plans.length > 0 ? (
        <Button className="self-start" onPress={run}>
          {said ? "Forecast again" : `Forecast ${forecastRules.shows.toLocaleString("en")} shows`}
        </Button>
      ) : (
        <Words kind="faded">A line without tests near the show's hours cannot be forecast.</Words>
      )}
      <ProblemNote error={error} />
      {said && !running && said.done < forecastRules.shows ? (
        <Words kind="small">{`Stopped after ${said.done} shows; the figures are of those.`}</Words>
      ) : null}
      {said
        ? [...(event.failover.auto ? [] : [BY_HAND]), ...restsOn(question.lines, name)].map((text) => (
            <Words key={text} kind="small">
              {text}
            </Words>
          ))
        : null}
    </Panel>
  );
}

const BY_HAND = "This event does not switch by itself: with failover means that somebody switches as soon as the rule would.";

function Outcome({ result, backup, name }: { result: ForecastResult; backup: boolean; name: (id: string) => string }) {
  const { value, between } = chanceText(result);
  return (
    <View className="gap-1">
      <Figure label="Shows without trouble" shown={{ value, unit: `(${between})` }} />
      {troubleText(result, backup, name).map((text) => (
        <Words key={text} kind="small">
          {text}
        </Words>
      ))}
    </View>
  );
}

/** What is put side by side, and the question about those whose every line has tests. */
function asked(event: Event, survey: Survey, plans: BoldPlan[], inHand: WholePlan): { rows: Row[]; question: ForecastQuestion } {
  const bold = plans.map(({ boldness, plan }) => ({ title: boldnessWord[boldness], plan }));
  // A plan of one's own is forecast beside them.
  const own = plans.some((p) => p.plan && samePlan(p.plan, inHand)) ? [] : [{ title: "In hand", plan: inHand }];
  const all = [...bold, ...own];
  const loaded = all.map(({ plan }) => (plan ? forecastPlan(plan) : null));
  const used = [...new Set(loaded.flatMap((p) => p?.loads.map((l) => l.line) ?? []))];
  const lines = used.flatMap((id) => forecastLine(id, survey.uplinks) ?? []);
  const known = (plan: ForecastPlan) => plan.loads.every((l) => lines.some((line) => line.id === l.line));
  const asking = loaded.flatMap((p) => (p && known(p) ? [p] : []));
  return {
    rows: all.map(({ title, plan }, i) => {
      const at = asking.indexOf(loaded[i] as ForecastPlan);
      return { title, plan, at: at < 0 ? null : at };
    }),
    question: {
      seconds: Math.round((Date.parse(event.show.end) - Date.parse(event.show.start)) / 1000),
      seed: SEED,
      lines,
      plans: asking,
      failover: event.failover,
    },
  };
}
