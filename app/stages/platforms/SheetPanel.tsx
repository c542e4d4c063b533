import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { attributes } from "../../words/sheet";
import { frameRateText, rateText, sizeText } from "../../words/units";

/** One platform's rule sheet: first what a crew asks most, the rest behind a tap. */
export function SheetPanel({ sheet }: { sheet: RuleSheet }) {
  const [open, setOpen] = useState(false);
  return (
    <Panel title={sheet.platform.name}>
      <Words kind="small">{`Rule sheet ${sheet.revision}, from ${sheet.source.title}, checked ${sheet.source.checkedOn} by ${sheet.source.checkedBy}.`}</Words>
      <View>
        {sheet.modes.map((m) => (
          <Row
            key={`${sizeText(m)}${m.codec}${m.frameRates[0]}`}
            label={`${sizeText(m)} at ${m.frameRates.map((r) => frameRateText(r).replace(" frames/s", "")).join(", ")} frames/s`}
          >
            {`${rateText(m.minBps)} to ${rateText(m.maxBps)}${m.recommendedBps ? `, recommended ${rateText(m.recommendedBps)}` : ""}`}
          </Row>
        ))}
        {open
          ? attributes.map((a) => (
              <Row key={a.id} label={a.word}>
                {a.say(sheet)}
              </Row>
            ))
          : null}
      </View>
      <Button
        className="self-start"
        label={`${open ? "Less" : "All"} of the rule sheet of ${sheet.platform.name}`}
        onPress={() => setOpen(!open)}
      >
        {open ? "Less" : "All of the rule sheet"}
      </Button>
    </Panel>
  );
}
