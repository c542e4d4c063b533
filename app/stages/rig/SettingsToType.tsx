import type { Settings } from "@ukaza/contract/settings";
import { View } from "react-native";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { settingsRows } from "../../words/findings";

/** The settings as they are read out to whoever types them. */
export function SettingsToType({ settings, encoder }: { settings: Settings; encoder: string }) {
  return (
    <Panel title={`Settings for the ${encoder.toLowerCase()}`}>
      <View>
        {settingsRows(settings).map(([label, text]) => (
          <Row key={label} label={label}>
            {text}
          </Row>
        ))}
      </View>
    </Panel>
  );
}
