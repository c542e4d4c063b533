import type { Encoder } from "@ukaza/contract/encoder";
import type { LineUplink } from "@ukaza/contract/standins";
import { maskKey } from "@ukaza/core/rig/secret";
import { html, page } from "../shared/page";
import type { EncoderDevice } from "./encoder";
import type { Pairing } from "./pairing";

export interface Face {
  kit: Encoder;
  device: EncoderDevice;
  pairing: Pairing | null;
  uplinks: LineUplink[];
  /** What the last press of a button came to. */
  said: string | null;
}

/** The encoder's own page: what it holds, and the one way in which it is set. */
export function facePage(face: Face): string {
  const { kit, device, said } = face;
  const note = said ? `<p role="status">${html(said)}</p>` : "";
  const own =
    kit.reach.driver === "none" ? handForm(face) : kit.setBy === "settings file" ? fileForm() : kit.setBy === "code" ? codeForm(face) : "";
  return page(`${kit.name} ${kit.serial}`.trim(), `${note}${heldTable(device)}${own}`);
}

function heldTable(device: EncoderDevice): string {
  const { engine, feeds } = device.held();
  const s = engine.settings;
  const status = device.status(new Date()).feeds;
  const rows = Object.entries(feeds).map(([id, feed]) => {
    const now = status.find((f) => f.feedId === id);
    return `<tr><td>${html(id)}</td><td>${html(feed.address)}</td><td>${html(maskKey(feed.key))}</td><td>${now?.sending ? `sending, ${html(now.connection)}` : "off"}</td></tr>`;
  });
  const settings = s
    ? `${s.width}×${s.height} at ${s.frameRate} frames/s, ${s.codec} ${s.profile}, ${s.videoBps / 1e3} + ${s.audioBps / 1e3} kb/s, keyframe every ${s.keyframeS} s, ${s.protocol}`
    : "no settings yet";
  return `<p>Holds: ${html(settings)}</p><table><tr><th>Feed</th><th>Address</th><th>Key</th><th>State</th></tr>${rows.join("")}</table>`;
}

const fileForm = () => `<h2>Settings file</h2><label for="file">Choose the file</label><input id="file" type="file">
<p id="said" role="status"></p><script>document.getElementById("file").onchange = async (e) => {
  const answer = await fetch("/v1/settings-file", { method: "POST", headers: { "content-type": "application/json" }, body: await e.target.files[0].text() });
  document.getElementById("said").textContent = answer.ok ? "Taken." : (await answer.json()).detail;
};</script>`;

function codeForm({ pairing }: Face): string {
  const state = pairing?.now() ?? { kind: "free" as const };
  const shown =
    state.kind === "waiting"
      ? `<p>Approve this code there, under Kit:</p><p class="code" id="code">${html(state.userCode)}</p>`
      : state.kind === "paired"
        ? "<p>It is set from afar.</p>"
        : state.kind === "refused"
          ? `<p role="alert">${html(state.why)}</p>`
          : "";
  return `<h2>Set from afar</h2>${shown}<form method="post" action="/pair"><label for="server">Address of the program that sets it</label>
<input id="server" name="server" placeholder="http://192.168.8.2:4310"><button>Ask for a code</button></form>`;
}

const choice = (name: string, label: string, values: readonly string[], chosen: string) =>
  `<label for="${name}">${html(label)}</label><select id="${name}" name="${name}">${values
    .map((v) => `<option value="${html(v)}"${v === chosen ? " selected" : ""}>${html(v)}</option>`)
    .join("")}</select>`;
const field = (name: string, label: string, value: string, type = "text") =>
  `<label for="${name}">${html(label)}</label><input id="${name}" name="${name}" type="${type}" value="${html(value)}" autocomplete="off">`;

/** Everything by hand: the settings, and one field for each output. */
function handForm({ kit, device, uplinks }: Face): string {
  const { engine, feeds } = device.held();
  const s = engine.settings;
  const sending = device.status(new Date()).feeds;
  const outputs = Array.from({ length: kit.maxFeeds }, (_, i) => {
    const id = `output-${i + 1}`;
    const held = feeds[id];
    const on = sending.find((f) => f.feedId === id)?.sending ?? false;
    return `<h3>Output ${i + 1}</h3>${field(`target-${i + 1}`, held ? `Address and key (held: ${held.address}, ${maskKey(held.key)})` : "Address and key in one", "", "password")}
${choice(
  `uplink-${i + 1}`,
  "Network",
  uplinks.map((u) => u.id),
  held?.uplinkId ?? "",
)}${held ? `<button name="press" value="${on ? "stop" : "start"} ${id}">${on ? "Stop" : "Start"} output ${i + 1}</button>` : ""}`;
  });
  const sizes = kit.sizes?.map((z) => `${z.width}x${z.height}`) ?? ["1920x1080", "1280x720", "960x540", "640x360"];
  return `<h2>Set by hand</h2><form method="post" action="/set">
${choice("size", "Size", sizes, s ? `${s.width}x${s.height}` : "")}
${choice("frameRate", "Frame rate", kit.frameRates ?? ["25", "30000/1001", "30", "50", "60000/1001", "60"], s?.frameRate ?? "")}
${choice("profile", "Profile", kit.codecs[0]?.profiles ?? ["main"], s?.profile ?? "")}
${field("videoKbps", "Video bitrate, kb/s", s ? String(s.videoBps / 1e3) : "3000", "number")}
${field("audioKbps", "Audio bitrate, kb/s", s ? String(s.audioBps / 1e3) : "128", "number")}
${field("keyframeS", "Keyframe interval, s", s ? String(s.keyframeS) : "2", "number")}
${field("bFrames", "B-frames", s ? String(s.bFrames) : "0", "number")}
${choice("rateControl", "Rate control", ["constant", "capped-variable"], s?.rateControl ?? "")}
${outputs.join("")}<p><button name="press" value="keep">Keep the settings</button></p></form>`;
}
