import type { AirNow, LogLine } from "@ukaza/contract/air";
import { useState } from "react";
import { Text, View } from "react-native";
import { useLog } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Panel } from "../../ui/Panel";
import { logSentence } from "../../words/air";
import { timeText } from "../../words/units";

const FIRST = 8;
const levelSign: Record<LogLine["level"], string> = { info: "", warn: "▲ ", alarm: "■ " };
const levelTone: Record<LogLine["level"], string> = { info: "text-ink", warn: "text-strained", alarm: "text-broken" };

/** The log that writes itself, newest first. */
export function LogPanel({ eventId, air, timeZone }: { eventId: string; air: Pick<AirNow, "feeds">; timeZone: string }) {
  const [all, setAll] = useState(false);
  const feedWord = (id: string) => {
    const feed = air.feeds.find((f) => f.id === id);
    return feed ? `${feed.role === "main" ? "Main" : "Backup"} feed` : "A feed";
  };
  return (
    <Panel title="Log">
      <Loaded state={useLog(eventId)}>
        {(lines) => {
          const newest = [...lines].sort((a, b) => b.id - a.id);
          return (
            <View role="log" aria-label="Log" aria-live="polite" className="gap-2">
              {(all ? newest : newest.slice(0, FIRST)).map((line) => (
                <View key={line.id} className="flex-row gap-2 border-b border-rule pb-1">
                  <Text className="font-figures text-sm leading-5 text-faded">{timeText(line.at, timeZone, true)}</Text>
                  <Text
                    className={`flex-1 font-words text-sm leading-5 ${levelTone[line.level]}`}
                  >{`${levelSign[line.level]}${logSentence(line, feedWord)}`}</Text>
                </View>
              ))}
              {newest.length > FIRST ? (
                <Button onPress={() => setAll(!all)}>{all ? "Show fewer" : `Show all ${newest.length} lines`}</Button>
              ) : null}
            </View>
          );
        }}
      </Loaded>
    </Panel>
  );
}
