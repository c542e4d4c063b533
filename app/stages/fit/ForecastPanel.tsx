import type { Event } from "@ukaza/contract/event";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { Settings } from "@ukaza/contract/settings";
import type { Survey } from "@ukaza/contract/survey";
import { boldPlans } from "@ukaza/core/fit/boldness";
import { type ForecastPlan, type ForecastQuestion, type ForecastResult, forecastLine, forecastRules } from "@ukaza/core/fit/forecast";
import { useEffect, useMemo, useRef, useState } from "react";
import { View } from "react-native";
import { useSurvey } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Figure } from "../../ui/Figure";
import { Panel } from "../../ui/Panel";
import { ProgressBar } from "../../ui/ProgressBar";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { planTitle } from "../../words/fit";
import { boldnessWord, chanceText, restsOn, troubleText } from "../../words/forecast";
import { rateText } from "../../words/units";
import type { ForecastSaid } from "../../workers/forecastMessage";
import { runForecast } from "../../workers/runForecast";

interface Props {
  event: Event;
  problem: FitProblem;
  now: FitNow;
  onPick: (settings: Settings) => void;
}

/** The same evenings for everybody who looks: a forecast can be repeated. */
const SEED = 1;

/** A cautious, a balanced and a bold plan, and what becomes of each on thousands of evenings like those that were measured. */
export function ForecastPanel({ event, ...props }: Props) {
  const { data: survey } = useSurvey(`/events/${event.id}/survey`);
  return survey ? <Forecasts key={JSON.stringify(props.problem.uplinks)} event={event} survey={survey} {...props} /> : null;
}

function Forecasts({ event, survey, problem, now, onPick }: Props & { survey: Survey }) {
  const wide = useWide();
  const plans = useMemo(() => boldPlans(problem, now.sustainableBps), [problem, now.sustainableBps]);
  const question = useMemo(() => questionOf(event, survey, plans), [event, survey, plans]);
  const [said, setSaid] = useState<ForecastSaid | null>(null);
  const [running, setRunning] = useState(false);
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);
  const name = (id: string) => now.uplinkNames[id] ?? id;
  const run = () => {
    setSaid(null);
    setRunning(true);
    stop.current = runForecast({ question, shows: forecastRules.shows }, (next) => {
      setSaid(next);
      if (next.done >= forecastRules.shows) setRunning(false);
    });
  };
  const halt = () => {
    stop.current?.();
    setRunning(false);
  };
  const asked = plans.filter(({ plan }) => plan !== null);
  const ready = question.plans.length === asked.length && asked.length > 0;
  return (
    <Panel title="Forecast">
      <Words kind="small">A cautious plan keeps 15 % more of each line free, a bold one 15 % less.</Words>
      <View role="list" className={wide ? "flex-row gap-3" : "gap-3"}>
        {plans.map(({ boldness, plan }) => {
          const result = said && plan ? said.results[asked.findIndex((p) => p.boldness === boldness)] : undefined;
          return (
            <View
              key={boldness}
              role="listitem"
              aria-label={boldnessWord[boldness]}
              className="min-w-0 flex-1 gap-1 border-l-4 border-l-rule pl-3"
            >
              <Words kind="strong">{boldnessWord[boldness]}</Words>
              {plan ? (
                <>
                  <Words>{`${planTitle(plan.settings)} at ${rateText(plan.settings.videoBps)}, score ${plan.score.q.toFixed(0)}`}</Words>
                  {result && result.shows > 0 ? <Outcome result={result} backup={plan.feeds.length > 1} name={name} /> : null}
                  {now.fixed ? null : (
                    <Button className="self-start" onPress={() => onPick(plan.settings)}>
                      {`Take the ${boldness} plan`}
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
      ) : ready ? (
        <Button className="self-start" onPress={run}>
          {said ? "Forecast again" : `Forecast ${forecastRules.shows.toLocaleString("en")} shows`}
        </Button>
      ) : (
        <Words kind="faded">A line without tests near the show's hours cannot be forecast.</Words>
      )}
      {said && !running && said.done < forecastRules.shows ? (
        <Words kind="small">{`Stopped after ${said.done} shows; the figures are of those.`}</Words>
      ) : null}
      {said
        ? restsOn(question.lines, name).map((text) => (
            <Words key={text} kind="small">
              {text}
            </Words>
          ))
        : null}
    </Panel>
  );
}

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

/** Plans of which every line has tests; lines that none of them uses are left out. */
function questionOf(event: Event, survey: Survey, plans: ReturnType<typeof boldPlans>): ForecastQuestion {
  const feeds = plans.flatMap(({ plan }): ForecastPlan[] => {
    const [main, backup] = plan?.feeds ?? [];
    if (!main) return [];
    return [
      {
        main: { line: main.uplinkId, loadBps: main.loadBps },
        backup: backup ? { line: backup.uplinkId, loadBps: backup.loadBps } : null,
      },
    ];
  });
  const used = [...new Set(feeds.flatMap((f) => [f.main.line, ...(f.backup ? [f.backup.line] : [])]))];
  const lines = used.flatMap((id) => forecastLine(id, survey.uplinks) ?? []);
  const known = (id: string) => lines.some((l) => l.id === id);
  return {
    seconds: Math.round((Date.parse(event.show.end) - Date.parse(event.show.start)) / 1000),
    seed: SEED,
    lines,
    plans: feeds.filter((f) => known(f.main.line) && (!f.backup || known(f.backup.line))),
    failover: event.failover,
  };
}
