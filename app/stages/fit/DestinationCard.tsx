import type { DestinationDemands } from "@ukaza/contract/demands";
import type { Finding } from "@ukaza/contract/findings";
import type { FitDestination, FitProblem } from "@ukaza/contract/fit";
import type { PlanLimit, WholePlan } from "@ukaza/contract/fitPlan";
import type { Settings, SettingsPatch } from "@ukaza/contract/settings";
import { mendAll } from "@ukaza/core/rules/check";
import { type ReactNode, useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Figure } from "../../ui/Figure";
import { StateMark } from "../../ui/StateMark";
import { Tick } from "../../ui/Tick";
import { Words } from "../../ui/Words";
import { fieldWord, valueText } from "../../words/findings";
import { planTitle } from "../../words/fit";
import { type Names, planLimitSentence, waySentence } from "../../words/plan";
import { rateText } from "../../words/units";
import { DemandFields } from "./DemandFields";
import { Findings } from "./Findings";
import { checkOf } from "./inHand";
import { SettingsPanel } from "./SettingsPanel";

interface Props {
  problem: FitProblem;
  given: FitDestination;
  asked: DestinationDemands;
  plan: WholePlan | null;
  names: Names;
  handle: ReactNode;
  findings: Finding[];
  laidOver: boolean;
  fixed: boolean;
  bound: PlanLimit | undefined;
  onChange: (part: Partial<DestinationDemands>) => void;
}

/** One destination: what it gets and why no more, what is asked for it, and its settings by hand. */
export function DestinationCard({ problem, given, asked, plan, names, handle, findings, laidOver, fixed, bound, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const name = names.destination(given.id);
  const served = plan?.destinations.find((d) => d.destinationId === given.id);
  const settings = served?.settings ?? null;
  const blocked = findings.filter((f) => f.level === "blocks").length;
  const byHand = Object.keys(asked.fixed) as (keyof Settings)[];
  const fix = (patch: SettingsPatch) => onChange({ fixed: { ...asked.fixed, ...patch } });
  const input = settings && plan ? checkOf(problem, given.id, plan, settings) : null;
  const encoder = problem.encoders.find((e) => e.id === served?.feeds[0]?.encoderId) ?? problem.encoders[0];
  return (
    <View className={`rounded border bg-sheet p-3 ${blocked > 0 ? "border-broken" : "border-rule"}`}>
      <View className="flex-row items-start gap-2">
        {handle}
        <View className="min-w-0 flex-1">
          <Words kind="strong">{name}</Words>
          {settings ? (
            <Words>{`${planTitle(settings)} at ${rateText(settings.videoBps)}`}</Words>
          ) : plan ? (
            <StateMark health="silent" word={given.relay ? "Not needed in this plan" : "Not served"} />
          ) : null}
        </View>
        {served?.score && !given.relay ? (
          <Figure label="Score" shown={{ value: served.score.q.toFixed(0), unit: "of 100" }} testID={`score-${given.id}`} />
        ) : null}
      </View>
      {served ? (
        <Words kind="small" testID={`why-${given.id}`}>
          {settings
            ? `${waySentence(served, names)} ${laidOver ? "Your own settings." : planLimitSentence[bound ?? served.bound]}`
            : planLimitSentence[bound ?? served.bound]}
        </Words>
      ) : null}
      {byHand.length > 0 ? (
        <View className="mt-1 flex-row flex-wrap items-center gap-2">
          <Words
            kind="small"
            className="shrink"
          >{`By hand: ${byHand.map((f) => `${fieldWord[f].toLowerCase()} ${valueText(f, asked.fixed[f])}`).join(", ")}.`}</Words>
          {fixed ? null : (
            <Button label={`Let go of the settings by hand of ${name}`} onPress={() => onChange({ fixed: {} })}>
              Let go
            </Button>
          )}
        </View>
      ) : null}
      {findings.some((f) => f.level !== "notes") ? (
        <StateMark
          health={blocked > 0 ? "broken" : "strained"}
          word={blocked > 0 ? `${blocked} ${blocked === 1 ? "setting" : "settings"} would be refused` : "Taken, with a risk"}
        />
      ) : null}
      <View className="mt-1 flex-row flex-wrap items-center justify-between gap-2">
        {given.relay ? (
          <Words kind="small">Passes on what others need.</Words>
        ) : (
          <Tick label="Must be served" on={asked.must} disabled={fixed} onChange={(must) => onChange({ must })} />
        )}
        <Button label={`${open ? "Less of" : "More of"} ${name}`} onPress={() => setOpen(!open)}>
          {open ? "Less" : "More"}
        </Button>
      </View>
      {open ? (
        <View className="mt-3 gap-4 border-t border-rule pt-3">
          {fixed ? null : <DemandFields problem={problem} given={given} asked={asked} names={names} onChange={onChange} />}
          {settings && encoder ? (
            <SettingsPanel
              settings={settings}
              sheet={given.sheet}
              encoder={encoder}
              fixed={fixed}
              onBest={() => onChange({ fixed: {} })}
              onPatch={fix}
            />
          ) : null}
          {settings && input ? (
            <Findings findings={findings} fixed={fixed} onMend={fix} onMendAll={() => fix(changed(settings, mendAll(input).settings))} />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

/** The fields in which the second differs. */
function changed(from: Settings, to: Settings): SettingsPatch {
  const fields = (Object.keys(to) as (keyof Settings)[]).filter((field) => from[field] !== to[field]);
  return Object.fromEntries(fields.map((field) => [field, to[field]]));
}
