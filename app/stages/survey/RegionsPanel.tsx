import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { UplinkSurvey } from "@ukaza/contract/survey";
import { nearestRegions } from "@ukaza/core/survey/regions";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder, usePlatforms } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Overlay } from "../../ui/Overlay";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { dayText } from "../../words/units";

/** Which region of each platform is nearest over this uplink. Platforms with one place are not asked about. */
export function RegionsPanel({ survey, timeZone }: { survey: UplinkSurvey; timeZone: string }) {
  const { data: listed } = usePlatforms();
  const [asked, setAsked] = useState<RuleSheet | null>(null);
  const several = (listed ?? []).map((l) => l.sheet).filter((sheet) => sheet.regions.length > 1);
  if (several.length === 0) return null;
  return (
    <Panel title="Nearest region">
      {several.map((sheet) => {
        const { measured, unmeasured } = nearestRegions(sheet, survey.regions);
        const [nearest] = measured;
        return (
          <View key={sheet.platform.id} className="gap-2">
            <Words>
              {nearest
                ? `${sheet.platform.name}: ${nearest.name} is nearest, ${nearest.rttMs} ms.${unmeasured.length > 0 ? ` Not measured: ${unmeasured.map((r) => r.name).join(", ")}.` : ""}`
                : `${sheet.platform.name} has ${sheet.regions.length} regions; no round trip has been measured from here.`}
            </Words>
            {measured.map((r) => (
              <Row key={r.id} label={`${r.name}, ${dayText(r.takenAt, timeZone)}`}>{`${r.rttMs} ms`}</Row>
            ))}
            <Button className="self-start" label={`Add a round trip to ${sheet.platform.name}`} onPress={() => setAsked(sheet)}>
              Add a round trip
            </Button>
          </View>
        );
      })}
      <Overlay title={`Round trip to ${asked?.platform.name ?? ""}`} open={asked !== null} onClose={() => setAsked(null)}>
        {asked ? <TripForm uplinkId={survey.uplink.id} sheet={asked} onDone={() => setAsked(null)} /> : null}
      </Overlay>
    </Panel>
  );
}

function TripForm({ uplinkId, sheet, onDone }: { uplinkId: string; sheet: RuleSheet; onDone: () => void }) {
  const refresh = useRefreshLines();
  const { busy, error, run } = useOrder();
  const [regionId, setRegionId] = useState(sheet.regions[0]?.id ?? "");
  const [text, setText] = useState("");
  const rttMs = Number(text.replace(",", "."));
  const wrong = text !== "" && (!Number.isFinite(rttMs) || rttMs < 0.1 || rttMs > 60_000);
  const save = async () => {
    const trip = { platformId: sheet.platform.id, regionId, rttMs, takenAt: new Date().toISOString() };
    if (!(await run(() => send("POST", `/uplinks/${uplinkId}/regions`, trip)))) return;
    await refresh();
    onDone();
  };
  return (
    <>
      <Choice label="Region" value={regionId} options={sheet.regions.map((r) => ({ value: r.id, word: r.name }))} onChange={setRegionId} />
      <Field
        label="Round trip"
        unit="ms"
        numeric
        value={text}
        onChange={setText}
        error={wrong ? "Give milliseconds from 0.1 to 60000." : undefined}
      />
      <ProblemNote error={error} />
      <Button look="main" busy={busy} disabled={wrong || text === ""} onPress={() => void save()}>
        Add the round trip
      </Button>
    </>
  );
}
