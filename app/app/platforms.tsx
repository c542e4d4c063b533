import { View } from "react-native";
import { usePlatforms } from "../data/hooks";
import { Loaded } from "../ui/Loaded";
import { Panel } from "../ui/Panel";
import { Row } from "../ui/Row";
import { Shelf } from "../ui/Shelf";
import { Words } from "../ui/Words";
import { frameRateText, rateText, sizeText } from "../words/units";

/** What each platform takes, by its rule sheet. */
export default function Platforms() {
  return (
    <Shelf here="Platforms">
      <Loaded state={usePlatforms()}>
        {(sheets) =>
          sheets.map((sheet) => (
            <Panel key={sheet.platform.id} title={sheet.platform.name}>
              <Words kind="small">{`Rule sheet ${sheet.revision}, from ${sheet.source.title}, checked ${sheet.source.checkedOn} by ${sheet.source.checkedBy}.`}</Words>
              <View>
                {sheet.modes.map((m) => (
                  <Row
                    key={`${sizeText(m)}${m.frameRates[0]}`}
                    label={`${sizeText(m)} at ${m.frameRates.map((r) => frameRateText(r).replace(" frames/s", "")).join(", ")} frames/s`}
                  >
                    {`${rateText(m.minBps)} to ${rateText(m.maxBps)}${m.recommendedBps ? `, recommended ${rateText(m.recommendedBps)}` : ""}`}
                  </Row>
                ))}
                <Row label="Keyframe interval">{`${sheet.keyframe.minS} to ${sheet.keyframe.maxS} s, recommended ${sheet.keyframe.recommendedS} s`}</Row>
                <Row label="Audio">{`at most ${rateText(sheet.audio.maxBps)}${sheet.audio.recommendedBps ? `, recommended ${rateText(sheet.audio.recommendedBps)}` : ""}`}</Row>
                <Row label="Protocols">{sheet.protocols.map((p) => `${p.protocol.toUpperCase()} (port ${p.defaultPort})`).join(", ")}</Row>
                <Row label="Backup ingest">{sheet.backupIngest ? "offered" : "not offered"}</Row>
              </View>
            </Panel>
          ))
        }
      </Loaded>
    </Shelf>
  );
}
