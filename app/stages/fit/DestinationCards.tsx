import type { DestinationDemands } from "@ukaza/contract/demands";
import type { EventDemands } from "@ukaza/contract/eventPlan";
import type { FitProblem } from "@ukaza/contract/fit";
import type { PlanLimit, WholePlan } from "@ukaza/contract/fitPlan";
import { weightsByOrder } from "@ukaza/core/fit/weights";
import { View } from "react-native";
import { DragOrder } from "../../ui/DragOrder";
import { Words } from "../../ui/Words";
import type { Names } from "../../words/plan";
import { DestinationCard } from "./DestinationCard";
import { findingsOf } from "./inHand";

interface Props {
  problem: FitProblem;
  /** null: nothing holds together. */
  plan: WholePlan | null;
  demands: EventDemands;
  names: Names;
  laidOver: string[];
  fixed: boolean;
  /** What keeps each back, where it was looked into. */
  bounds?: Map<string, PlanLimit>;
  onAsk: (demands: EventDemands) => void;
}

/** The destinations in the order of what they matter: the order is their weight. */
export function DestinationCards({ problem, plan, demands, names, laidOver, fixed, bounds, onAsk }: Props) {
  const findings = plan ? findingsOf(problem, plan) : new Map();
  const ids = demands.destinations.map((d) => d.id);
  const order = (next: string[]) => {
    const weights = weightsByOrder(next.length);
    onAsk({
      ...demands,
      destinations: next.flatMap((id, i) => {
        const own = demands.destinations.find((d) => d.id === id);
        return own ? [{ ...own, weight: weights[i] ?? 1 }] : [];
      }),
    });
  };
  const change = (id: string, part: Partial<DestinationDemands>) =>
    onAsk({ ...demands, destinations: demands.destinations.map((d) => (d.id === id ? { ...d, ...part } : d)) });
  return (
    <View className="gap-2">
      <Words kind="heading">Destinations</Words>
      {ids.length > 1 && !fixed ? <Words kind="small">The first matters most. Drag a card by its handle to change the order.</Words> : null}
      <DragOrder ids={ids} nameOf={names.destination} onOrder={order} disabled={fixed || ids.length < 2}>
        {(id, handle) => {
          const given = problem.destinations.find((d) => d.id === id);
          const asked = demands.destinations.find((d) => d.id === id);
          if (!given || !asked) return null;
          return (
            <DestinationCard
              problem={problem}
              given={given}
              asked={asked}
              plan={plan}
              names={names}
              handle={handle}
              findings={findings.get(id) ?? []}
              laidOver={laidOver.includes(id)}
              fixed={fixed}
              bound={bounds?.get(id)}
              onChange={(part) => change(id, part)}
            />
          );
        }}
      </DragOrder>
    </View>
  );
}
