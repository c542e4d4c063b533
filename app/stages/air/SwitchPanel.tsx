import type { AirNow } from "@ukaza/contract/air";
import { compareHealth } from "@ukaza/core/air/hysteresis";
import { useSWRConfig } from "swr";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { HoldButton } from "../../ui/HoldButton";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";

/** Moving viewers to the other feed by hand, and what happens by itself. */
export function SwitchPanel({ eventId, air }: { eventId: string; air: AirNow }) {
  const { mutate } = useSWRConfig();
  const { busy, error, run } = useOrder();
  const to = air.active === "main" ? "backup" : "main";
  const target = air.feeds.find((f) => f.role === to);
  const current = air.feeds.find((f) => f.role === air.active);
  if (!target) return null;
  const targetHealth = target.verdict?.health ?? "silent";
  const worse = compareHealth(targetHealth, current?.verdict?.health ?? "silent") > 0;
  const { policy } = air;
  const doSwitch = async () => {
    const next = await run(() => send<AirNow>("POST", `/events/${eventId}/air/switch`, { to }));
    if (next) await mutate(`/events/${eventId}/air`, next, { revalidate: false });
  };
  return (
    <Panel title="Switch by hand">
      <HoldButton
        busy={busy}
        onConfirm={() => void doSwitch()}
        warning={`Viewers get the ${to} feed over ${target.uplinkName}, now ${targetHealth}; the change may show for a moment.${worse ? " It is worse than the one they have." : ""}`}
      >
        {`Switch to ${to}`}
      </HoldButton>
      <ProblemNote error={error} />
      <Words kind="small">
        {policy.auto
          ? `By itself: to the other feed when this one has been broken or silent for ${policy.brokenForS} s and the other is steady; at most ${policy.maxSwitches} times in ${policy.withinS / 60} min. Back to main ${policy.returnAuto ? `by itself after ${policy.steadyForS} s steady` : "only by hand"}.`
          : "Nothing switches by itself at this event; advice stands in the log."}
      </Words>
    </Panel>
  );
}
