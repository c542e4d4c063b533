import { useEffect, useRef, useState } from "react";
import { type PhoneTestResult, runPhoneTest } from "../../data/phoneTest";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { ProgressBar } from "../../ui/ProgressBar";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { dataText, rateText } from "../../words/units";

/** From here on a phone encoder has room on the crew's own network (rule of thumb: a 6 Mb/s feed three times over). */
const ROOMY_BPS = 18_000_000;

/** The way from this phone to the server over the crew's own network: no part of the venue's line. */
export function PhoneTest() {
  const [share, setShare] = useState<number | null>(null);
  const [result, setResult] = useState<PhoneTestResult | null>(null);
  const [failed, setFailed] = useState(false);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const start = async () => {
    const control = new AbortController();
    stop.current = control;
    setFailed(false);
    setResult(null);
    setShare(0);
    try {
      setResult(await runPhoneTest(setShare, control.signal));
    } catch {
      setFailed(!control.signal.aborted);
    } finally {
      setShare(null);
    }
  };
  return (
    <Panel title="This phone to the server">
      <Words kind="faded">
        Five seconds of upload from this browser to the server, over the crew's own Wi-Fi. It says nothing of the venue's line, and is not
        added to its tests.
      </Words>
      {share === null ? (
        <Button className="self-start" onPress={() => void start()}>
          Test this phone's way
        </Button>
      ) : (
        <>
          <ProgressBar share={share} label="Sending to the server" />
          <Button className="self-start" onPress={() => stop.current?.abort()}>
            Cancel
          </Button>
        </>
      )}
      {failed ? (
        <Words tone="text-broken">The server was not reached. Check that this phone is on the crew's network, and try again.</Words>
      ) : null}
      {result ? (
        <>
          <Row label="Phone to server">{rateText(result.rateBps)}</Row>
          <Row label="Round trip, at most">{`${result.rttMs.toFixed(0)} ms`}</Row>
          <Words>
            {result.rateBps >= ROOMY_BPS
              ? `Roomy: a phone encoder on this network is held up by the venue's line, not by the Wi-Fi. ${dataText(result.bytes)} were sent.`
              : `Narrow: a feed from a phone on this network should stay under ${rateText(result.rateBps / 2)}. Move nearer, or use a cable.`}
          </Words>
        </>
      ) : null}
    </Panel>
  );
}
