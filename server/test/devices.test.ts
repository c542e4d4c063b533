import type { AirNow } from "@ukaza/contract/air";
import type { AccountNow } from "@ukaza/contract/deviceCode";
import { type FitNow, settingsSheet } from "@ukaza/contract/fitChoice";
import type { KitItem } from "@ukaza/contract/kit";
import type { RunSheet } from "@ukaza/contract/lineup";
import type { Revealed, RigNow } from "@ukaza/contract/rig";
import { bestChoice } from "../../core/test/kit";
import { demoFile, startWorld, until, type World } from "./world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.close());

const form = (url: string, fields: Record<string, string>) => fetch(url, { method: "POST", body: new URLSearchParams(fields) });
const standin = (name: string, path: string) => `${world.running.standinAddress(name)}${path}`;

/** Asks a platform for a code and decides on its page as a person would. */
async function account(platform: string, decision: "approved" | "denied"): Promise<AccountNow> {
  const path = `/platforms/${platform}/account`;
  const { body } = await world.call<AccountNow>("POST", path);
  if (body.state !== "waiting") throw new Error(`no code: ${JSON.stringify(body)}`);
  const answer = await form(body.page, { code: body.userCode.toLowerCase(), decision });
  expect(await answer.text()).toContain(decision === "approved" ? "It has been let in." : "It has been refused.");
  return (
    await until(
      () => world.call<AccountNow>("GET", path),
      (a) => a.body.state !== "waiting",
    )
  ).body;
}

/** An event like the opening concert, with another encoder. */
async function eventWith(encoderId: string, id = `with-${encoderId}`): Promise<string> {
  const event = demoFile<Record<string, object>>("events/opening-concert.json");
  const [destination] = event.destinations as unknown as object[];
  const answer = await world.call("POST", "/import", {
    ...event,
    id,
    name: id,
    encoderIds: [encoderId],
    destinations: [{ ...destination, backup: false }],
  });
  expect(answer.status).toBe(201);
  return id;
}

/** Chooses the best fit, as the app would; gives it. */
async function chooseFit(eventId: string, change: object = {}) {
  const { body } = await world.call<FitNow>("GET", `/events/${eventId}/fit`);
  const { settings, choice } = bestChoice(body.problem, change);
  const saved = await world.call("PUT", `/events/${eventId}/fit`, choice);
  expect(saved.status).toBe(200);
  return { settings, feeds: choice.destinations[0]?.feeds ?? [] };
}
const rig = async (eventId: string, order?: string) =>
  order ? world.call<RigNow>("POST", `/events/${eventId}/rig/${order}`) : world.call<RigNow>("GET", `/events/${eventId}/rig`);

describe("accounts on platforms, by a code (RFC 8628)", () => {
  test("refused, then approved, then disconnected; the token shows nowhere", async () => {
    expect((await world.call<AccountNow>("GET", "/platforms/tallgate/account")).body).toEqual({ state: "none", why: "never" });
    expect(await account("tallgate", "denied")).toEqual({ state: "none", why: "denied" });
    const connected = await account("tallgate", "approved");
    expect(connected).toEqual({ state: "connected", since: expect.any(String) });
    expect((await world.call<AccountNow>("DELETE", "/platforms/tallgate/account")).body).toEqual({ state: "none", why: "withdrawn" });
    expect((await world.call<AccountNow>("GET", "/platforms/any-server/account")).body).toEqual({ state: "by hand" });
  });

  test("a code that nobody waits with, a grant of another kind, and a platform that has let nobody in", async () => {
    const wrong = await form(standin("tallgate", "/approve"), { code: "XXXX-XXXX", decision: "approved" });
    expect(wrong.status).toBe(404);
    expect(await wrong.text()).toContain("No program waits with this code");
    const other = await form(standin("tallgate", "/oauth/token"), { grant_type: "password", client_id: "x" });
    expect([other.status, await other.json()]).toEqual([400, { error: "unsupported_grant_type" }]);
    const stranger = await fetch(standin("tallgate", "/v1/broadcasts/b-1"), { headers: { authorization: "Bearer of-nothing" } });
    expect(stranger.status).toBe(401);
  });
});

test("an encoder let in by a code: the chapel recital from the account to public", async () => {
  const id = "chapel-recital";
  await chooseFit(id);
  expect((await rig(id)).body).toMatchObject({ account: "none", paired: false, setBy: "code" });
  expect((await rig(id, "broadcast")).body).toMatchObject({ status: 409, detail: "the platform has not let this program in" });
  await account("parishboard", "approved");
  const made = await rig(id, "broadcast");
  expect(made.body.ingests[0]?.fields.map((f) => f.label)).toEqual(["Address", "Stream key", "Name of the sender"]);
  expect((await rig(id, "configure")).body).toMatchObject({ status: 409, detail: "Pocket encoder has not been let in yet" });

  // On the encoder's own page somebody asks for a code; here somebody approves it.
  const page = await (await form(standin("pocket-encoder", "/pair"), { server: world.running.address })).text();
  const [, code = ""] = /id="code">([A-Z-]+)</.exec(page) ?? [];
  expect(code).toMatch(/^[B-Z]{4}-[B-Z]{4}$/);
  expect((await world.call("GET", "/devices/XXXX-XXXX")).body.detail).toBe("no encoder waits with this code");
  const waiting = await world.call<{ serial: string; encoder: { id: string } }>("GET", `/devices/${code}`);
  expect(waiting.body).toMatchObject({ serial: "PK-0052", encoder: { id: "pocket-encoder" } });
  expect((await world.call("POST", `/devices/${code}`, { encoderId: "desk-encoder", approved: true })).body.detail).toMatch(
    /not set by a code/,
  );
  await world.call("POST", `/devices/${code}`, { encoderId: "pocket-encoder", approved: true });
  await until(
    () => rig(id),
    (r) => r.body.paired === true,
  );
  expect((await fetch(`${world.running.address}/api/device/config`)).status).toBe(401);

  const configured = await rig(id, "configure");
  expect(configured.body.readBack?.fields.filter((f) => !f.equal)).toEqual([]);
  expect(configured.body.readBack?.fields.map((f) => f.field)).toContain("name of the sender");
  await world.call("POST", `/events/${id}/lineup/steps/send`, {});
  const seen = await until(
    () => world.call<RunSheet>("GET", `/events/${id}/lineup`),
    (sheet) => sheet.body.steps.find((s) => s.id === "verdict")?.state === "done",
  );
  expect(seen.body.facts.verdict).toBe("good");
  await world.call("POST", `/events/${id}/lineup/unsend`);
}, 60_000);

test("an encoder that takes a settings file takes nothing else, and only a file with its number", async () => {
  const id = await eventWith("rack-two-way");
  await chooseFit(id);
  await rig(id, "broadcast");
  const configured = await rig(id, "configure");
  expect(configured.body).toMatchObject({ setBy: "settings file", readBack: { equal: true } });
  const put = await fetch(standin("rack-two-way", "/v1/config"), {
    method: "PUT",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ engine: { settings: null }, feeds: {} }),
  });
  expect(put.status).toBe(409);
  const { encoder } = (await world.call<KitItem[]>("GET", "/kit")).body.find((k) => k.encoder.id === "rack-two-way") as KitItem;
  await world.call("PUT", "/encoders/rack-two-way", { ...encoder, serial: "RT2-0000" });
  expect((await rig(id, "configure")).body).toMatchObject({ detail: "this file is for the encoder RT2-0000, not for RT2-0419" });
  await world.call("PUT", "/encoders/rack-two-way", encoder);
}, 40_000);

test("an encoder under remote control listens only to who knows its number; it is asked what it can do", async () => {
  const reach = { driver: "standin", name: "field-pack" };
  expect((await world.call("POST", "/encoders/ask", { reach, serial: "FP-0000" })).body.detail).toBe(
    "this is not the encoder's serial number",
  );
  const said = await world.call<{ serial: string }>("POST", "/encoders/ask", { reach, serial: "FP-7731" });
  expect(said.body).toMatchObject({ id: "field-pack", serial: "FP-7731", setBy: "remote" });
  const far = await world.call("POST", "/encoders/ask", { reach: { driver: "http", address: "http://127.0.0.1:9" }, serial: "" });
  expect(far.body.detail).toMatch(/no answer from the device/);
  expect((await world.call("POST", "/encoders/ask", { reach: { driver: "none" } })).body.detail).toMatch(/nothing reaches this encoder/);
  await chooseFit("cliff-top-finale");
  await rig("cliff-top-finale", "broadcast");
  expect((await rig("cliff-top-finale", "configure")).body).toMatchObject({ setBy: "remote", readBack: { equal: true } });
}, 40_000);

test("an encoder set by hand: what was typed wrong shows in what the platform receives", async () => {
  const id = await eventWith("six-way-receiver");
  const { settings, feeds } = await chooseFit(id);
  const made = await rig(id, "broadcast");
  expect(made.body).toMatchObject({ setBy: "by hand", ingests: [{ fields: [{ label: "Address with key", secret: true }] }, {}] });
  expect(JSON.stringify(made.body.ingests[0]?.fields)).not.toContain("rtmp://");
  const revealed = await world.call<Revealed>("POST", `/events/${id}/rig/reveal`, { role: "main" });
  const target = revealed.body.fields[0]?.value ?? "";
  expect(target).toMatch(/^rtmp:\/\/.*\/live\/[0-9a-f-]{20,}$/);
  await rig(id, "configure");
  expect((await rig(id, "read-back")).body).toMatchObject({
    status: 409,
    detail: expect.stringMatching(/receives nothing from the six-way receiver/),
  });

  const typed = (videoKbps: number) => ({
    size: `${settings.width}x${settings.height}`,
    frameRate: settings.frameRate,
    profile: settings.profile,
    videoKbps: String(videoKbps),
    audioKbps: String(settings.audioBps / 1e3),
    keyframeS: String(settings.keyframeS),
    bFrames: String(settings.bFrames),
    rateControl: settings.rateControl,
    "target-1": target,
    "uplink-1": feeds[0]?.uplinkId ?? "",
    press: "keep",
  });
  const set = async (fields: Record<string, string>) => (await form(standin("six-way-receiver", "/set"), fields)).text();
  expect(await set({ ...typed(3_000), "target-1": "rtmp:/mistyped" })).toContain("address and key cannot be read");
  expect(await set(typed(settings.videoBps / 1e3 - 500))).toContain("Kept.");
  expect(await set({ press: "start output-1" })).toContain("output-1 is sending.");
  await world.call("POST", `/events/${id}/lineup/steps/send`, {});
  const wrong = await until(
    () => rig(id, "read-back"),
    (r) => r.status === 200,
  );
  expect(wrong.body.readBack?.fields.filter((f) => !f.equal).map((f) => f.field)).toEqual(["videoBps"]);
  expect(await set(typed(settings.videoBps / 1e3))).toContain("Kept.");
  await until(
    () => rig(id, "read-back"),
    (r) => r.body.readBack?.equal === true,
  );
  expect(await set({ press: "stop output-1" })).toContain("output-1 is off.");
  await world.call("POST", `/events/${id}/lineup/unsend`);
  // Neither the settings sheet nor the page of the device shows a key.
  const csv = await (await fetch(`${world.running.address}/api/events/${id}/settings-sheets/six-way-receiver.csv`)).text();
  expect(csv).toContain(`1,videoBps,${settings.videoBps},bit/s`);
  expect(csv).toContain(" main address,rtmp://");
  expect(csv).not.toContain(target.split("/").at(-1) ?? "none");
  const json = await world.call("GET", `/events/${id}/settings-sheets/six-way-receiver.json`);
  expect(settingsSheet.parse(json.body)).toMatchObject({ encoder: "Six-way receiver", serial: "SW6-110", engines: [{ settings }] });
  expect((await world.call("GET", "/events/opening-concert/settings-sheets")).body.detail).toMatch(/no settings have been chosen/);
  const page = await (await fetch(standin("six-way-receiver", "/"))).text();
  expect(page).not.toContain(target.split("/").at(-1) ?? "none");
}, 60_000);

test("any server: address and key are typed, each way of copying wrongly is told, and a person takes the platform's steps", async () => {
  // A server of one's own stands behind the line: here the ingest of another broadcast.
  await chooseFit("opening-concert");
  await rig("opening-concert", "broadcast");
  const { body: opened } = await world.call<Revealed>("POST", "/events/opening-concert/rig/reveal", { role: "main" });
  const address = opened.fields[0]?.value ?? "";
  const event = demoFile<Record<string, object>>("events/opening-concert.json");
  const [destination] = event.destinations as unknown as object[];
  const id = "own-server";
  await world.call("POST", "/import", {
    ...event,
    id,
    name: id,
    destinations: [{ ...destination, platformId: "any-server", backup: false }],
  });
  const put = (body: object) => world.call("PUT", `/events/${id}/rig/ingest`, { role: "main", address, key: opened.key, ...body });
  expect((await put({})).body.detail).toMatch(/no settings have been chosen/);
  // Settings that both the server behind the address and the standards take.
  await chooseFit(id, { width: 1280, height: 720, frameRate: "25", videoBps: 2_500_000, profile: "main", protocol: "rtmp" });
  expect((await rig(id)).body).toMatchObject({ account: "by hand", toType: [{ role: "main", login: true, passphrase: false }] });
  expect((await rig(id, "broadcast")).body).toMatchObject({ detail: "nothing reaches this platform from here" });
  const swapped = await put({ address: opened.key, key: address });
  expect(swapped.body).toMatchObject({
    status: 422,
    detail: "the address looks like a stream key",
    mend: expect.stringMatching(/may be swapped/),
  });
  expect(JSON.stringify(swapped.body)).not.toContain(opened.key);
  expect((await put({ address: `${address}/${opened.key}` })).body.detail).toBe("the address ends in the key already");
  const kept = await put({ key: ` ${opened.key}\n` });
  expect(kept.body).toMatchObject({ ingests: [{ role: "main", address }] });
  expect(JSON.stringify(kept.body)).not.toContain(opened.key);
  expect((await rig(id, "configure")).body).toMatchObject({ readBack: { equal: true } });

  const step = (name: string, body: object = {}) => world.call<RunSheet>("POST", `/events/${id}/lineup/steps/${name}`, body);
  expect((await step("receive")).status).toBe(409);
  await step("send");
  for (const name of ["receive", "verdict"]) expect((await step(name)).status).toBe(200);
  const open = await step("public", { confirm: "public" });
  expect(open.body.facts.publicAt).not.toBeNull();
  const air = await until(
    () => world.call<AirNow>("GET", `/events/${id}/air`),
    (a) => a.body.feeds[0]?.verdict?.health === "steady",
  );
  expect(air.body.feeds[0]?.last).toMatchObject({ receivedBps: null, platform: null });
  const log = (await world.call<{ kind: string }[]>("GET", `/events/${id}/log`)).body;
  expect(log.map((line) => line.kind)).not.toContain("driver-lost");
  await step("stop");
  const over = await step("end", { confirm: "end" });
  expect(over.body.steps.every((s) => s.state === "done")).toBe(true);
  expect((await world.call("PUT", "/events/cliff-top-finale/rig/ingest", { role: "main", address, key: "k" })).body.detail).toMatch(
    /hands out addresses and keys itself|already/,
  );
}, 60_000);

test("a server that was killed knows its accounts and its encoders again", async () => {
  const back = world.running.restarted();
  process.kill(world.running.serverPid(), "SIGKILL");
  await back;
  expect((await world.call<AccountNow>("GET", "/platforms/parishboard/account")).body).toMatchObject({ state: "connected" });
  expect((await rig("chapel-recital")).body).toMatchObject({ account: "connected", paired: true });
  // The encoder kept its token too: what is laid out it still comes for.
  expect((await rig("chapel-recital", "configure")).body).toMatchObject({ readBack: { equal: true } });
}, 60_000);

test("an encoder whose code is refused says so, and asks anew", async () => {
  const page = await (await form(standin("pocket-encoder", "/pair"), { server: world.running.address })).text();
  const [, code = ""] = /id="code">([A-Z-]+)</.exec(page) ?? [];
  await world.call("POST", `/devices/${code}`, { encoderId: "pocket-encoder", approved: false });
  const said = async () => ({ status: 200, text: await (await fetch(standin("pocket-encoder", "/"))).text() });
  await until(said, ({ text }) => text.includes("The code was refused."));
  expect((await world.call("GET", `/devices/${code}`)).status).toBe(404);
  const wrong = await (await form(standin("pocket-encoder", "/pair"), { server: "http://127.0.0.1:9" })).text();
  expect(wrong).toContain("no code came from http://127.0.0.1:9");
  expect((await (await form(standin("desk-encoder", "/pair"), { server: "x" })).json()) as object).toMatchObject({ status: 409 });
}, 30_000);
