import type { SettingsSheet } from "@ukaza/contract/fitChoice";
import { Link, useLocalSearchParams } from "expo-router";
import { useState } from "react";
import { ScrollView, View } from "react-native";
import { download } from "../../data/download";
import { useSettingsSheets } from "../../data/hooks";
import { printPage } from "../../data/print";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loaded } from "../../ui/Loaded";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { settingsRows } from "../../words/findings";
import { planTitle } from "../../words/fit";
import { dayText, rateText, timeText } from "../../words/units";

/** What each encoder is told, on a page of its own: to read out, to print, to save. No key stands on it. */
export default function SettingsSheetPage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const [picked, setPicked] = useState<string | null>(null);
  return (
    <ScrollView className="flex-1 bg-paper" contentContainerClassName="mx-auto w-full max-w-[720px] gap-4 p-4 pb-12">
      <View className="print:hidden">
        <Link href={`/events/${id}/fit`} className="min-h-[32px] py-1 font-words text-base text-deep">
          ← Fit
        </Link>
      </View>
      <View role="main" className="gap-4">
        <Loaded state={useSettingsSheets(id)}>
          {(sheets) => {
            const sheet = sheets.find((s) => s.encoderId === picked) ?? sheets[0];
            if (!sheet) return <Words>No encoder does anything in this plan.</Words>;
            const file = `/events/${id}/settings-sheets/${sheet.encoderId}`;
            return (
              <>
                {sheets.length > 1 ? (
                  <View className="print:hidden">
                    <Choice
                      label="Encoder"
                      value={sheet.encoderId}
                      options={sheets.map((s) => ({ value: s.encoderId, word: s.encoder }))}
                      onChange={setPicked}
                    />
                  </View>
                ) : null}
                <Sheet sheet={sheet} />
                <View className="flex-row flex-wrap gap-2 print:hidden">
                  <Button look="main" onPress={printPage}>
                    Print
                  </Button>
                  <Button onPress={() => download(`${file}.json`)}>Save JSON</Button>
                  <Button onPress={() => download(`${file}.csv`)}>Save CSV</Button>
                </View>
              </>
            );
          }}
        </Loaded>
      </View>
    </ScrollView>
  );
}

function Sheet({ sheet }: { sheet: SettingsSheet }) {
  const { show, timeZone, engines } = sheet;
  return (
    <>
      <View>
        <Words kind="title">{`${sheet.encoder}${sheet.serial ? `, ${sheet.serial}` : ""}`}</Words>
        <Words kind="faded">{`${sheet.event}, ${sheet.venue}, ${dayText(show.start, timeZone)}, ${timeText(show.start, timeZone)} to ${timeText(show.end, timeZone)}. By ${sheet.plan}.`}</Words>
      </View>
      {engines.map((engine, i) => (
        <View key={`${planTitle(engine.settings)} ${engine.feeds[0]?.platform ?? i}`} className="gap-1">
          {engines.length > 1 ? <Words kind="heading">{`Engine ${i + 1}`}</Words> : null}
          {settingsRows(engine.settings).map(([label, text]) => (
            <Row key={label} label={label}>
              {text}
            </Row>
          ))}
          <Row label="Keyframe interval in frames">{String(engine.keyframeFrames)}</Row>
          {engine.feeds.map((feed) => (
            <Row key={`${feed.platform}${feed.role}`} label={`${feed.platform}, ${feed.role} feed`}>
              {`over ${feed.uplink}, load ${rateText(feed.loadBps)}${feed.address ? `, to ${feed.address}` : ""}`}
            </Row>
          ))}
        </View>
      ))}
      {sheet.recordBps === null ? null : <Row label="Recording beside the stream">{rateText(sheet.recordBps)}</Row>}
      <Words kind="small">Keys do not stand on this sheet; they are in Rig.</Words>
    </>
  );
}
