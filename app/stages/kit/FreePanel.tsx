import type { EventNow } from "@ukaza/contract/event";
import type { KitItem } from "@ukaza/contract/kit";
import { claimedSpan, claimsIn } from "@ukaza/core/rig/bookings";
import { useState } from "react";
import { View } from "react-native";
import { useEvents } from "../../data/hooks";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { Fields } from "../../ui/Section";
import { StateMark } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { claimText } from "../../words/kit";
import { dayNumberText, dayText, timeText } from "../../words/units";
import { type Span, tonight, typedSpan } from "./freeSpan";

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Is it free tonight, for an event, or for hours of one's choice? */
export function FreePanel({ kit }: { kit: KitItem[] }) {
  const { data: events } = useEvents();
  const [asked, setAsked] = useState("tonight");
  const evening = tonight(Date.now(), zone);
  const [from, setFrom] = useState(() => dayNumberText(evening.from, zone));
  const [until, setUntil] = useState(() => dayNumberText(evening.until, zone));
  const coming = (events ?? []).filter((e) => !e.finishedAt);
  const event = coming.find((e) => e.event.id === asked)?.event;
  const span: Span | { wrong: string } = asked === "hours" ? typedSpan(from, until, zone) : event ? claimedSpan(event.show) : evening;
  return (
    <Panel title="Is it free?">
      <Choice
        label="When"
        value={asked}
        options={[
          { value: "tonight", word: "Tonight" },
          ...coming.map((e: EventNow) => ({ value: e.event.id, word: e.event.name })),
          { value: "hours", word: "Other hours" },
        ]}
        onChange={setAsked}
      />
      {asked === "hours" ? (
        <Fields>
          <Field narrow label="From, on this device's clock" value={from} onChange={setFrom} />
          <Field narrow label="Until" value={until} onChange={setUntil} />
        </Fields>
      ) : null}
      {"wrong" in span ? (
        <Words tone="text-broken">{span.wrong}</Words>
      ) : (
        <>
          <Words kind="small">{`${dayText(span.from, zone)}, ${timeText(span.from, zone)} to ${dayText(span.until, zone)}, ${timeText(span.until, zone)}. An event holds its encoders from two hours before the show to one hour after (rule of thumb).`}</Words>
          <View role="list" aria-label="Free or taken">
            {kit.map(({ encoder }) => (
              <FreeRow
                key={encoder.id}
                name={encoder.name}
                claims={claimsIn(
                  kit.flatMap((item) => item.uses),
                  encoder.id,
                  span,
                  event?.id ?? null,
                )}
              />
            ))}
          </View>
        </>
      )}
    </Panel>
  );
}

function FreeRow({ name, claims }: { name: string; claims: KitItem["uses"] }) {
  return (
    <View role="listitem" className="gap-1 border-b border-rule py-2">
      <View className="flex-row items-center justify-between gap-3">
        <Words kind="strong">{name}</Words>
        <StateMark health={claims.length === 0 ? "steady" : "strained"} word={claims.length === 0 ? "Free" : "Taken"} />
      </View>
      {claims.map((use) => (
        <Words
          key={use.eventId}
          kind="small"
        >{`${use.out ? `Out since ${dayText(use.out.at, use.timeZone)}: ` : ""}${claimText(use)}`}</Words>
      ))}
    </View>
  );
}
