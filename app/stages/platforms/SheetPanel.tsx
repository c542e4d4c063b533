import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { View } from "react-native";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { attributes } from "../../words/sheet";
import { frameRateText, rateText, sizeText } from "../../words/units";

/** One platform's rule sheet whole: its modes, then everything else it says. */
export function SheetPanel({ sheet }: { sheet: RuleSheet }) {
  return (
    <>
      <Panel title="Modes">
        <Words kind="small">{`Version ${sheet.revision}, from ${sheet.source.title}, checked ${sheet.source.checkedOn} by ${sheet.source.checkedBy}.`}</Words>
        {sheet.openModes ? <Words>These are suggestions: whatever the codec's standard allows is taken.</Words> : null}
        <View>
          {sheet.modes.map((m) => (
            <Row
              key={`${sizeText(m)}${m.codec}${m.frameRates.join()}`}
              label={`${sizeText(m)} at ${m.frameRates.map((r) => frameRateText(r).replace(" frames/s", "")).join(", ")} frames/s${m.codec === "h264" ? "" : `, ${m.codec === "h265" ? "H.265" : "AV1"}`}`}
            >
              {`${rateText(m.minBps)} to ${rateText(m.maxBps)}${m.recommendedBps ? `, recommended ${rateText(m.recommendedBps)}` : ""}`}
            </Row>
          ))}
        </View>
      </Panel>
      <Panel title="Rules">
        <View>
          {attributes.map((a) => (
            <Row key={a.id} label={a.word}>
              {a.say(sheet)}
            </Row>
          ))}
        </View>
      </Panel>
    </>
  );
}
