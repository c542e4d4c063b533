import type { DestinationDemands } from "@ukaza/contract/demands";
import type { FitDestination, FitProblem } from "@ukaza/contract/fit";
import type { ReactNode } from "react";
import { View } from "react-native";
import { Choice } from "../../ui/Choice";
import { Several } from "../../ui/Several";
import { Words } from "../../ui/Words";
import type { Names } from "../../words/plan";

interface Props {
  problem: FitProblem;
  given: FitDestination;
  asked: DestinationDemands;
  names: Names;
  onChange: (part: Partial<DestinationDemands>) => void;
}

const ANY = "any";

/** What may be asked for a destination; only what this event's kit, lines and platforms can give is offered. */
export function DemandFields({ problem, given, asked, names, onChange }: Props) {
  const { uplinks, encoders, destinations } = problem;
  const relays = destinations.filter((d) => d.relay && d.id !== given.id);
  const { sheet } = given;
  const backup = !asked.backup ? "none" : asked.backupFrom === "another encoder" ? "another" : "same";
  return (
    <View className="gap-3">
      {sheet.backupIngest ? (
        <Labelled label="Backup feed">
          <Choice
            label="Backup feed"
            value={backup}
            options={[
              { value: "none", word: "None" },
              { value: "same", word: "From the same encoder" },
              ...(encoders.length > 1 ? [{ value: "another" as const, word: "From another encoder" }] : []),
            ]}
            onChange={(to) => onChange({ backup: to !== "none", backupFrom: to === "another" ? "another encoder" : "same encoder" })}
          />
        </Labelled>
      ) : (
        <Words kind="small">This platform has no backup ingest.</Words>
      )}
      {uplinks.length > 1 ? (
        <Labelled label="Not over">
          <Several
            value={asked.notOver}
            options={uplinks.map((u) => ({ value: u.id, word: names.uplink(u.id) }))}
            onChange={(notOver) => onChange({ notOver })}
          />
        </Labelled>
      ) : null}
      {encoders.length > 1 ? (
        <Labelled label="Main feed from">
          <Choice
            label="Main feed from"
            value={asked.onlyFrom ?? ANY}
            options={[{ value: ANY, word: "Any encoder" }, ...encoders.map((e) => ({ value: e.id, word: e.name }))]}
            onChange={(to) => onChange({ onlyFrom: to === ANY ? null : to })}
          />
        </Labelled>
      ) : null}
      {relays.length > 0 && !asked.relay ? (
        <Labelled label="Through a relay">
          <Choice
            label="Through a relay"
            value={asked.through ? `${asked.through.only ? "only" : "may"} ${asked.through.destinationId}` : ANY}
            options={[
              { value: ANY, word: "No" },
              ...relays.flatMap((r) => [
                { value: `may ${r.id}`, word: `${names.destination(r.id)}, if it is better` },
                { value: `only ${r.id}`, word: `${names.destination(r.id)} only` },
              ]),
            ]}
            onChange={(to) => {
              const [how, ...id] = to.split(" ");
              onChange({ through: to === ANY ? null : { destinationId: id.join(" "), only: how === "only" } });
            }}
          />
        </Labelled>
      ) : null}
      {sheet.renditionsMax > 1 ? (
        <Labelled label="Renditions sent side by side">
          <Choice
            label="Renditions sent side by side"
            value={String(asked.renditions)}
            options={Array.from({ length: Math.min(5, sheet.renditionsMax) }, (_, i) => ({ value: String(i + 1), word: String(i + 1) }))}
            onChange={(to) => onChange({ renditions: Number(to) })}
          />
        </Labelled>
      ) : null}
    </View>
  );
}

function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <View className="gap-1">
      <Words kind="small">{label}</Words>
      {children}
    </View>
  );
}
