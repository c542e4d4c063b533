import type { AirNow, FeedNow } from "@ukaza/contract/air";
import { View } from "react-native";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { useNow } from "../../ui/useNow";
import { Words } from "../../ui/Words";
import { adviceSentence, causeSentence, healthWord } from "../../words/air";
import { clock, timeText } from "../../words/units";

/** What is wrong, where, since when, and what to do; silence when nothing is. */
export function WrongNow({ air, timeZone }: { air: AirNow; timeZone: string }) {
  const ill = air.feeds.filter((f) => f.verdict && f.verdict.health !== "steady");
  if (ill.length === 0)
    return (
      <Words kind="faded" testID="all-well">
        {air.feeds.length > 1 ? "All feeds are steady." : "The feed is steady."}
      </Words>
    );
  return (
    <View role="status" className="gap-3">
      {ill.map((feed) => (
        <Wrong key={feed.id} feed={feed} air={air} timeZone={timeZone} />
      ))}
    </View>
  );
}

function Wrong({ feed, air, timeZone }: { feed: FeedNow; air: AirNow; timeZone: string }) {
  const now = useNow();
  const { verdict } = feed;
  if (!verdict) return null;
  const other = air.feeds.find((f) => f.id !== feed.id)?.verdict?.health ?? null;
  const name = `${feed.role === "main" ? "Main" : "Backup"} feed over ${feed.uplinkName}`;
  const advice = adviceSentence(verdict, air.active === feed.role ? other : null);
  return (
    <Panel title={name} className="border-2" aside={<StateMark health={verdict.health} word={healthWord[verdict.health]} />}>
      <Words testID="cause">{causeSentence(verdict)}</Words>
      <Words kind="small">{`Since ${timeText(verdict.since, timeZone, true)} (${clock((now - Date.parse(verdict.since)) / 1000)}). ${air.active === feed.role ? "Viewers have this feed." : `Viewers have the ${air.active} feed and see no trouble.`}`}</Words>
      {advice && air.active === feed.role ? <Words kind="strong">{advice}</Words> : null}
    </Panel>
  );
}
