import type { SettingsSheet } from "@ukaza/contract/fitChoice";
import { Link, useLocalSearchParams } from "expo-router";
import { ScrollView, View } from "react-native";
import { download } from "../../data/download";
import { useSettingsSheet } from "../../data/hooks";
import { printPage } from "../../data/print";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { settingsRows } from "../../words/findings";
import { dayText, rateText, timeText } from "../../words/units";

/** What an encoder is told, on one page: to read out, to print, to save. No key stands on it. */
export default function SettingsSheetPage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return (
    <ScrollView className="flex-1 bg-paper" contentContainerClassName="mx-auto w-full max-w-[720px] gap-4 p-4 pb-12">
      <View className="print:hidden">
        <Link href={`/events/${id}/fit`} className="min-h-[32px] py-1 font-words text-base text-deep">
          ← Fit
        </Link>
      </View>
      <View role="main" className="gap-4">
        <Loaded state={useSettingsSheet(id)}>{(sheet) => <Sheet sheet={sheet} />}</Loaded>
        <View className="flex-row flex-wrap gap-2 print:hidden">
          <Button look="main" onPress={printPage}>
            Print
          </Button>
          <Button onPress={() => download(`/events/${id}/settings-sheet.json`)}>Save JSON</Button>
          <Button onPress={() => download(`/events/${id}/settings-sheet.csv`)}>Save CSV</Button>
        </View>
      </View>
    </ScrollView>
  );
}

function Sheet({ sheet }: { sheet: SettingsSheet }) {
  const { show, timeZone, settings } = sheet;
  return (
    <>
      <View>
        <Words kind="title">{`${sheet.encoder}${sheet.serial ? `, ${sheet.serial}` : ""}`}</Words>
        <Words kind="faded">{`${sheet.event}, ${sheet.venue}, ${dayText(show.start, timeZone)}, ${timeText(show.start, timeZone)} to ${timeText(show.end, timeZone)}. For ${sheet.platform}.`}</Words>
      </View>
      <View>
        {settingsRows(settings).map(([label, text]) => (
          <Row key={label} label={label}>
            {text}
          </Row>
        ))}
        <Row label="Keyframe interval in frames">{String(sheet.keyframeFrames)}</Row>
        {sheet.feeds.map((feed) => (
          <Row key={feed.role} label={feed.role === "main" ? "Main feed" : "Backup feed"}>
            {`over ${feed.uplink}, load ${rateText(feed.loadBps)}${feed.address ? `, to ${feed.address}` : ""}`}
          </Row>
        ))}
      </View>
      <Words kind="small">Keys do not stand on this sheet; they are in Rig.</Words>
    </>
  );
}
