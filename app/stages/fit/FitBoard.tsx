import type { CheckInput } from "@ukaza/contract/findings";
import type { FitAnswer, FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { Settings } from "@ukaza/contract/settings";
import { pictureScore } from "@ukaza/core/fit/score";
import { feedLoad } from "@ukaza/core/media/load";
import { checkSettings, mendAll } from "@ukaza/core/rules/check";
import { useRouter } from "expo-router";
import { type ReactNode, useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useEvent, useOrder } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { NextThing } from "../../ui/NextThing";
import { ProblemNote } from "../../ui/Problem";
import { useWide } from "../../ui/useWide";
import { planTitle } from "../../words/fit";
import { rateText } from "../../words/units";
import { Alternatives } from "./Alternatives";
import { BudgetPanel } from "./BudgetPanel";
import { Findings } from "./Findings";
import { ForecastPanel } from "./ForecastPanel";
import { LoadLines } from "./LoadLines";
import { ScorePanel } from "./ScorePanel";
import { SettingsPanel } from "./SettingsPanel";
import { StepDownPanel } from "./StepDownPanel";

interface Props {
  eventId: string;
  now: FitNow;
  problem: FitProblem;
  answer: FitAnswer & { kind: "fit" };
  /** The lines are not the measured ones: nothing is chosen from this. */
  supposing: boolean;
  children: ReactNode;
}

/** The settings in hand: the best, the chosen, or what the person makes of them; everything beside them moves along. */
export function FitBoard({ eventId, now, problem, answer, supposing, children }: Props) {
  const wide = useWide();
  const router = useRouter();
  const refresh = useRefresh(eventId);
  const { busy, error, run } = useOrder();
  const { data: event } = useEvent(eventId);
  const [edited, setEdited] = useState<Settings | null>(null);
  const settings = edited ?? (supposing ? null : now.chosen?.settings) ?? answer.best.settings;
  const [destination] = problem.destinations;
  const [encoder] = problem.encoders;
  if (!destination || !encoder) return null;
  const { sheet } = destination;
  const feeds = answer.best.feeds;
  const mainUplink = problem.uplinks.find((u) => u.id === feeds[0]?.uplinkId);
  const asked: CheckInput = {
    settings,
    sheet,
    encoder,
    source: problem.source,
    content: problem.content,
    ...(mainUplink ? { usableBps: mainUplink.usableBps } : {}),
  };
  const findings = checkSettings(asked);
  const blocked = findings.some((f) => f.level === "blocks");
  const score = pictureScore(settings, problem.source, problem.content);
  const isChosen = now.chosen !== null && same(now.chosen.settings, settings);
  const cargo = feeds.map((f) => {
    const lossRatio = problem.uplinks.find((u) => u.id === f.uplinkId)?.lossRatio ?? 0;
    return { uplinkId: f.uplinkId, name: f.role === "main" ? "Main" : "Backup", loadBps: feedLoad(settings, lossRatio).loadBps };
  });

  const choose = async (despite: boolean) => {
    const body = { settings, feeds: feeds.map(({ role, encoderId, uplinkId }) => ({ role, encoderId, uplinkId })), despite };
    const next = await run(() => send<FitNow>("PUT", `/events/${eventId}/fit`, body));
    if (!next) return;
    setEdited(null);
    await refresh();
  };
  const forecast = event ? <ForecastPanel event={event.event} problem={problem} now={now} onPick={setEdited} /> : null;
  const sentence = supposing
    ? `With such lines: ${planTitle(settings)} at ${rateText(settings.videoBps)}. Nothing is chosen from a supposition.`
    : now.fixed
      ? "The encoder sends with these settings; they stay as they are."
      : isChosen
        ? `Chosen: ${planTitle(settings)} at ${rateText(settings.videoBps)}. Next, get address and key into the encoder.`
        : `${same(settings, answer.best.settings) ? "The best use of this line" : "Your own settings"}: ${planTitle(settings)} at ${rateText(settings.videoBps)}.`;
  return (
    <>
      <NextThing sentence={sentence}>
        {supposing ? null : now.fixed || isChosen ? (
          <Button look="main" onPress={() => router.push(`/events/${eventId}/rig`)}>
            Go to Rig
          </Button>
        ) : (
          <Button look="main" busy={busy} disabled={blocked} onPress={() => choose(false)}>
            Use these settings
          </Button>
        )}
        {blocked && !supposing && !now.fixed && !isChosen ? (
          <Button look="danger" busy={busy} onPress={() => choose(true)}>
            Use them despite the findings
          </Button>
        ) : null}
        <ProblemNote error={error} />
        {now.chosen ? <Button onPress={() => router.push(`/settings-sheet/${eventId}`)}>Settings sheet of the encoder</Button> : null}
      </NextThing>
      <View className={wide ? "flex-row items-start gap-4" : "gap-4"}>
        <View className="min-w-0 flex-1 gap-4">
          <ScorePanel score={score} settings={settings} answer={answer} />
          <Findings
            findings={findings}
            fixed={now.fixed}
            onMend={(patch) => setEdited({ ...settings, ...patch })}
            onMendAll={() => setEdited(mendAll(asked).settings)}
          />
          <SettingsPanel
            settings={settings}
            sheet={sheet}
            encoder={encoder}
            best={answer.best.settings}
            fixed={now.fixed}
            onChange={setEdited}
          />
          {wide ? forecast : null}
        </View>
        <View className={wide ? "w-[420px] gap-4" : "gap-4"}>
          <LoadLines problem={problem} now={now} cargo={cargo} />
          {children}
          <StepDownPanel
            problem={problem}
            settings={settings}
            uplinkIds={[...new Set(cargo.map((c) => c.uplinkId))]}
            names={now.uplinkNames}
          />
          {wide ? null : forecast}
          {event ? <BudgetPanel event={event.event} problem={problem} now={now} settings={settings} cargo={cargo} /> : null}
          <Alternatives answer={answer} current={settings} fixed={now.fixed} onPick={(picked) => setEdited(picked)} />
        </View>
      </View>
    </>
  );
}

function same(a: Settings, b: Settings): boolean {
  return (Object.keys(a) as (keyof Settings)[]).every((field) => a[field] === b[field]);
}
