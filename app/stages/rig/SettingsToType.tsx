import type { Settings } from "@ukaza/contract/settings";
import { View } from "react-native";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { fieldWord, valueText } from "../../words/findings";

const order: (keyof Settings)[] = [
  "codec",
  "profile",
  "frameRate",
  "videoBps",
  "rateControl",
  "keyframeS",
  "bFrames",
  "audioBps",
  "audioHz",
  "audioChannels",
  "protocol",
];

/** The settings as they are read out to whoever types them. */
export function SettingsToType({ settings, encoder }: { settings: Settings; encoder: string }) {
  return (
    <Panel title={`Settings for the ${encoder.toLowerCase()}`}>
      <View>
        <Row label="Size">{`${settings.width}×${settings.height}`}</Row>
        {order.map((field) => (
          <Row key={field} label={fieldWord[field]}>
            {valueText(field, settings[field])}
          </Row>
        ))}
      </View>
    </Panel>
  );
}
