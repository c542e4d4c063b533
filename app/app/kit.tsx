import { View } from "react-native";
import { useEncoders } from "../data/hooks";
import { Loaded } from "../ui/Loaded";
import { Panel } from "../ui/Panel";
import { Row } from "../ui/Row";
import { Shelf } from "../ui/Shelf";
import { rateText } from "../words/units";

/** The crew's encoders and what they can do. */
export default function Kit() {
  return (
    <Shelf here="Kit">
      <Loaded state={useEncoders()}>
        {(encoders) =>
          encoders.map((e) => (
            <Panel key={e.id} title={e.name}>
              <View>
                <Row label="Kind">{e.kind}</Row>
                <Row label="Engines">{String(e.engines)}</Row>
                <Row label="Largest picture">{`${e.maxWidth}×${e.maxHeight}`}</Row>
                <Row label="Codecs">
                  {e.codecs.map((c) => `${c.codec === "h264" ? "H.264" : c.codec.toUpperCase()} to level ${c.maxLevel}`).join(", ")}
                </Row>
                <Row label="Video bitrate">{`${rateText(e.videoBps.min)} to ${rateText(e.videoBps.max)} in steps of ${rateText(e.videoBps.step)}`}</Row>
                <Row label="Protocols">{e.protocols.map((p) => p.toUpperCase()).join(", ")}</Row>
                {e.reach.driver === "standin" ? <Row label="Reached as">a stand-in on this machine</Row> : null}
              </View>
            </Panel>
          ))
        }
      </Loaded>
    </Shelf>
  );
}
