import { Refusal } from "@ukaza/contract/problem";
import type { MediaSecond } from "@ukaza/contract/standins";
import { baseSettings, sheetAudioBps } from "@ukaza/core/rules/baseSettings";
import { shippedSheets, unsaid } from "../../core/test/kit";
import { freshPlatform, Platform } from "../platform/platform";

const t = (s: number) => new Date(Date.parse("2026-06-10T18:00:00Z") + s * 1000);
const refusal = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    if (error instanceof Refusal) return error.problem.type.replace("urn:ukaza:problem:", "");
    throw error;
  }
  return "nothing refused";
};

type Name = keyof typeof shippedSheets;

/** A platform that ships, a broadcast on it, and a second of media that its own sheet takes. */
function open(name: Name, order: object = {}) {
  const sheet = shippedSheets[name];
  const memory = { value: freshPlatform(), save: () => undefined };
  const platform = new Platform(sheet, memory, () => "127.0.0.1:9", 1);
  const create = (more: object = {}) => platform.create({ title: "T", description: "", access: "public", ...order, ...more }, t(0));
  const made = create();
  const [mode] = sheet.modes;
  const [main] = made.keys;
  if (!mode || !main) throw new Error("no mode or key");
  const protocol = platform.find(made.id).protocol;
  const videoBps = mode.recommendedBps ?? mode.maxBps;
  const settings = baseSettings(sheet, mode, mode.frameRates[0] ?? "25", protocol, {
    profile: mode.profiles[0] ?? "main",
    videoBps,
    audioBps: sheetAudioBps(sheet),
  });
  const media: MediaSecond = { bits: settings.videoBps + settings.audioBps, settings, pictureChange: 0.2, audioDb: -20 };
  const send = (s: number, said: object = {}, more: Partial<MediaSecond> = {}, key = main.key, path = "live") =>
    refusal(() => platform.receive(path, key, { ...media, ...more }, t(s), { ...unsaid, ...said }));
  return {
    platform,
    made,
    create,
    main,
    settings,
    send,
    held: () => platform.find(made.id),
    show: (s: number) => platform.show(platform.find(made.id), t(s)),
  };
}

describe("each platform behaves as its sheet says", () => {
  test("Parishboard: only senders by name, over RTMPS; the key dies on stop; the encoder ends first", () => {
    const { made, send, platform, held, main } = open("parishboard");
    const sender = { userAgent: "Skerrow community sender" };
    expect(main.address).toBe("rtmps://127.0.0.1:9/live");
    expect(made.keys).toHaveLength(1);
    expect(send(1)).toBe("sender-unknown");
    for (let s = 2; s < 40; s++) expect(send(s, sender)).toBe("nothing refused");
    platform.goPublic(held(), t(40));
    expect(refusal(() => platform.end(held(), t(41)))).toBe("still-receiving");
    expect(send(50, sender)).toBe("key-dead");
    expect(send(51, sender)).toBe("key-dead");
    platform.end(held(), t(52));
  });

  test("Parishboard: a lasting key can be asked for, and outlives a stop and its broadcast", () => {
    const { create, send, main } = open("parishboard", { lastingKey: true });
    const sender = { userAgent: "Skerrow community sender" };
    expect(send(1, sender)).toBe("nothing refused");
    expect(send(60, sender)).toBe("nothing refused");
    expect(create().keys[0]?.key).toBe(main.key);
    expect(create({ lastingKey: false }).keys[0]?.key).not.toBe(main.key);
  });

  test("Tallgate: no preview, one-time keys, the format frozen from public on, public for good", () => {
    const { send, platform, held, show, settings, create, main } = open("tallgate");
    for (let s = 1; s < 12; s++) send(s);
    expect(show(12).previewReady).toBe(false);
    platform.goPublic(held(), t(12));
    expect(show(12)).toMatchObject({ state: "public", ingests: [{ verdict: "good", received: { width: 1080, height: 1920 } }] });
    for (let s = 13; s < 20; s++) send(s, {}, { settings: { ...settings, videoBps: settings.videoBps - 500_000 } });
    expect(show(19).ingests[0]?.reason).not.toBe("format-frozen");
    for (let s = 20; s < 24; s++) send(s, {}, { settings: { ...settings, frameRate: "30" } });
    expect(show(23).ingests[0]).toMatchObject({ verdict: "refused", reason: "format-frozen" });
    expect(refusal(() => platform.goPrivate(held()))).toBe("public-for-good");
    expect(create().keys[0]?.key).not.toBe(main.key);
  });

  test("Halyard Relay over SRT: stream ID, renditions, regions, a price that runs until the end", () => {
    const { send, main, show, platform, held } = open("halyard-relay", { region: "far-coast" });
    expect(main.address).toBe("srt://127.0.0.1:9/far-coast-live");
    const streamId = (key: string) => ({ streamId: `publish:${key}` });
    expect(send(1)).toBe("stream-id");
    expect(send(1, { streamId: main.key })).toBe("stream-id");
    expect(send(1, streamId(main.key), {}, "", "far-coast-live")).toBe("nothing refused");
    expect(send(2, streamId(`${main.key}_3`), {}, "", "live")).toBe("nothing refused");
    expect(send(3, streamId(`${main.key}_9`))).toBe("key-unknown");
    expect(send(3, streamId(main.key), {}, "", "nowhere-live")).toBe("no-such-address");
    expect(show(3_600).costSoFar).toBeCloseTo(2.4, 2);
    platform.end(held(), t(5_400));
    expect(show(9_000).costSoFar).toBeCloseTo(3.6, 2);
    // Ending is no end here: it can be taken up again.
    expect(send(9_001, streamId(main.key))).toBe("nothing refused");
    expect(refusal(() => open("halyard-relay", { region: "moon" }))).toBe("no-such-region");
    expect(refusal(() => open("oriel-public", { protocol: "srt" }))).toBe("protocol-not-taken");
  });

  test("Halyard Relay over RTMP: user name and password; public can be taken back; the key lasts", () => {
    const { send, main, platform, held, show, create } = open("halyard-relay", { protocol: "rtmp" });
    expect(main.login).not.toBeNull();
    expect(send(1)).toBe("login-wrong");
    expect(send(1, { login: { user: main.login?.user ?? "", password: "guess" } })).toBe("login-wrong");
    for (let s = 2; s < 30; s++) expect(send(s, { login: main.login })).toBe("nothing refused");
    platform.goPublic(held(), t(30));
    platform.goPrivate(held());
    expect(show(30)).toMatchObject({ state: "receiving", publicAt: null });
    expect(create().keys[0]?.key).toBe(main.key);
  });

  test.each(Object.keys(shippedSheets) as Name[])("%s finds nothing against its own first mode", (name) => {
    const { main, made } = open(name);
    expect(main.key.length).toBeGreaterThanOrEqual(20);
    expect(made.costSoFar === null).toBe(shippedSheets[name].pricePerHour === null);
    expect(made.keys.map((k) => k.role)).toEqual(shippedSheets[name].backupIngest ? ["main", "backup"] : ["main"]);
  });
});
