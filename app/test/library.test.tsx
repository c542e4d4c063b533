import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { AccountNow } from "@ukaza/contract/deviceCode";
import type { KitItem, KitUse } from "@ukaza/contract/kit";
import type { LibraryPreview } from "@ukaza/contract/library";
import type { RigNow } from "@ukaza/contract/rig";
import { shippedKit, shippedSheets } from "../../core/test/kit";
import { pickTextFile } from "../data/pickFile";
import { CodePanel } from "../stages/kit/CodePanel";
import { FreePanel } from "../stages/kit/FreePanel";
import { UsesPanel } from "../stages/kit/UsesPanel";
import { ImportLibrary } from "../stages/library/ImportLibrary";
import { NewerSheets } from "../stages/NewerSheets";
import { AccountPanel } from "../stages/platforms/AccountPanel";
import { SheetEditor } from "../stages/platforms/SheetEditor";
import { nextInRig } from "../stages/rig/nextInRig";
import { TypeIngest } from "../stages/rig/TypeIngest";
import { changeText, placeText } from "../words/changes";
import { encoderFacts } from "../words/kit";
import { answers, now, problem, refusals, sent, show } from "./page";

jest.mock("../data/pickFile");
jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }) }));

const press = (name: string | RegExp) => fireEvent.click(screen.getByRole("button", { name }));
const type = (name: string, value: string) => fireEvent.change(screen.getByRole("textbox", { name }), { target: { value } });
const oriel = shippedSheets["oriel-public"];

describe("a file from outside", () => {
  const preview = (more: Partial<LibraryPreview>): LibraryPreview => ({
    kind: "sheet",
    id: "oriel-public",
    name: "Oriel Public",
    standing: "changed",
    changes: [{ path: "bFramesMax", before: 2, after: 0 }],
    revision: 3,
    document: { format: "ukaza-platform", version: 1, reach: { driver: "none" }, sheet: oriel },
    ...more,
  });
  const chosen = (text: string, bytes = text.length) =>
    jest.mocked(pickTextFile).mockResolvedValueOnce({ name: "sheet.json", bytes, text: async () => text });

  test("is shown with its differences, and taken only when it is told to", async () => {
    const done = jest.fn();
    answers.set("POST /api/library/preview", preview({}));
    answers.set("POST /api/library/take", { id: "oriel-public" });
    chosen("{}");
    show(<ImportLibrary onDone={done} />);
    press("Choose a file");
    expect(await screen.findByText("It differs from the rule sheet here in one place.")).toBeTruthy();
    expect(screen.getByText("B-frames at most")).toBeTruthy();
    expect(screen.getByText("2 → 0")).toBeTruthy();
    expect(sent.map((s) => s.path)).toEqual(["/api/library/preview"]);
    press("Take it as version 3");
    await waitFor(() => expect(done).toHaveBeenCalledWith("sheet", "oriel-public"));
  });

  test("the same is nothing to take; a link that cannot be read says why; a huge file is not read at all", async () => {
    answers.set("POST /api/library/preview", preview({ standing: "same", changes: [] }));
    show(<ImportLibrary onDone={jest.fn()} />);
    type("Or a link to a file", "http://files.example/sheet.json");
    press("Read the link");
    expect(await screen.findByText(/word for word/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /^Take/ })).toBeNull();
    press("Back");
    refusals.set("/api/library/preview", { status: 502, body: problem("nothing could be read from files.example: it answered 404") });
    press("Read the link");
    expect(await screen.findByText(/it answered 404/)).toBeTruthy();
    chosen("{}", 10_000_000);
    press("Choose a file");
    expect(await screen.findByText(/sheet\.json has more than 2 MB/)).toBeTruthy();
  });
});

describe("writing a sheet", () => {
  test("typing is judged at once, the bench follows, and what changes is listed before it is saved", async () => {
    const saved = jest.fn();
    answers.set("GET /api/kit", []);
    answers.set("PUT /api/platforms/oriel-public", { sheet: { ...oriel, revision: 2 } });
    show(<SheetEditor begin={oriel} held={oriel} onSaved={saved} onLeave={jest.fn()} />);
    const bench = within(await screen.findByTestId("bench"));
    expect(bench.getByText("Nothing speaks against these settings")).toBeTruthy();
    fireEvent.change(bench.getByRole("textbox", { name: "Audio, kb/s" }), { target: { value: "320" } });
    expect(bench.getByText(/Audio at 320 kb\/s is over the platform's maximum of 256 kb\/s/)).toBeTruthy();
    press("Picture and sound");
    type("Audio, most, kb/s", "loud");
    expect(await screen.findByText("Give a number.")).toBeTruthy();
    expect(bench.getByText(/this is how it read before them/)).toBeTruthy();
    press("Save as version 2");
    expect(await screen.findByTestId("faults")).toBeTruthy();
    expect(sent).toEqual([]);
    type("Audio, most, kb/s", "320");
    expect(await bench.findByText("Nothing speaks against these settings")).toBeTruthy();
    const changes = within(screen.getByRole("list", { name: "Changes against the last version" }));
    expect(changes.getByText("256 kb/s → 320 kb/s")).toBeTruthy();
    press("Save as version 2");
    await waitFor(() => expect(saved).toHaveBeenCalledWith("oriel-public"));
    expect(sent[0]?.body).toMatchObject({ from: 1, sheet: { revision: 2, audio: { maxBps: 320_000 } } });
  });

  test("a pasted table is read line by line, and put in place of the old one", async () => {
    answers.set("GET /api/kit", []);
    show(<SheetEditor begin={oriel} held={null} onSaved={jest.fn()} onLeave={jest.fn()} />);
    press("Paste a table");
    fireEvent.change(screen.getByRole("textbox", { name: "Table of modes" }), {
      target: { value: "1920×1080\t25/30\t1500\t4500\t6000\n720p50\t\t1000\t3000\t4000\nbig\t25\t1\t2\t3" },
    });
    expect(screen.getByTestId("pasted").textContent).toBe("2 modes read, 1 rows not.");
    expect(screen.getByText('Line 3: "big" is not a size; write 1920×1080.')).toBeTruthy();
    press("Put them in place of the table");
    expect(screen.getByDisplayValue("1280×720")).toBeTruthy();
    expect(screen.getAllByRole("button", { name: /^Remove row/ })).toHaveLength(2);
    press("Remove row 2");
    await waitFor(() => expect(screen.queryByDisplayValue("1280×720")).toBeNull());
  });
});

test("an event says that a sheet is newer, what changed, and is planned anew only where it may", async () => {
  const newer = {
    platformId: "oriel-public",
    platformName: "Oriel Public",
    planned: 1,
    newest: 2,
    changes: [{ path: "transcodes", before: true, after: false }],
    held: null,
  };
  answers.set("GET /api/events/e/sheets", [newer]);
  answers.set("POST /api/events/e/sheets/oriel-public", []);
  show(<NewerSheets eventId="e" />);
  fireEvent.click(await screen.findByRole("button", { name: "What changed" }));
  expect(screen.getByText("yes → no")).toBeTruthy();
  press("Plan with version 2");
  await waitFor(() => expect(sent.map((s) => s.path)).toEqual(["/api/events/e/sheets/oriel-public"]));
});

describe("kit", () => {
  const use = (more: Partial<KitUse> = {}): KitUse => ({
    encoderId: "desk-encoder",
    eventId: "e",
    eventName: "Concert",
    venueName: "Hall",
    timeZone: "UTC",
    from: "2026-06-10T17:00:00.000Z",
    until: "2026-06-10T22:00:00.000Z",
    planned: true,
    out: null,
    ...more,
  });
  const item = (uses: KitUse[] = [], doubles: KitItem["doubles"] = []): KitItem => ({ encoder: shippedKit["desk-encoder"], uses, doubles });

  test("checking out asks for a name, says what it collides with, and goes on only despite that", async () => {
    answers.set("GET /api/events", [now]);
    refusals.set("/api/encoders/desk-encoder/check-out", {
      status: 409,
      body: problem("Desk encoder is planned for Recital at Chapel in the same hours", "double-booking"),
    });
    show(<UsesPanel item={item()} />);
    fireEvent.click(await screen.findByRole("radio", { name: "Concert" }));
    expect(screen.getByRole("button", { name: "Check out" }).getAttribute("aria-disabled")).toBe("true");
    type("Your name, for the log", "Ana");
    press("Check out");
    expect(await screen.findByText(/planned for Recital at Chapel in the same hours/)).toBeTruthy();
    refusals.clear();
    answers.set("POST /api/encoders/desk-encoder/check-out", [item([use({ out: { at: "2026-06-10T12:00:00Z", by: "Ana" } })])]);
    press("Take it along despite that");
    await waitFor(() => expect(sent.at(-1)?.body).toEqual({ eventId: "e", by: "Ana", despite: true }));
  });

  test("what is out says since when and with whom, and comes back; a double booking stands above all", async () => {
    const out = use({ out: { at: "2026-06-10T12:00:00Z", by: "Ana" } });
    const other = use({ eventId: "r", eventName: "Recital" });
    answers.set("POST /api/encoders/desk-encoder/check-in", []);
    show(<UsesPanel item={item([out, other], [{ encoderId: "desk-encoder", a: out, b: other, from: out.from, until: out.until }])} />);
    expect(screen.getByText("Wanted twice on Wed 10 Jun, 17:00 to 22:00: Concert and Recital.")).toBeTruthy();
    expect(screen.getByText("The event's own encoder. Out since 2026-06-10 12:00, Ana.")).toBeTruthy();
    type("Your name, for the log", "Bo");
    press("Check in from Concert");
    await waitFor(() => expect(sent[0]).toMatchObject({ path: "/api/encoders/desk-encoder/check-in", body: { eventId: "e", by: "Bo" } }));
  });

  test("is it free, for hours of one's choice", async () => {
    answers.set("GET /api/events", [now]);
    show(<FreePanel kit={[item([use()])]} />);
    fireEvent.click(await screen.findByRole("radio", { name: "Other hours" }));
    type("From, on this device's clock", "2026-06-10 21:00");
    type("Until", "2026-06-10 23:00");
    expect(screen.getByText("Taken")).toBeTruthy();
    type("From, on this device's clock", "2026-06-10 22:00");
    expect(screen.getByText("Free")).toBeTruthy();
    type("Until", "soon");
    expect(screen.getByText("Write both as 2026-06-10 18:00.")).toBeTruthy();
    // The event that has it planned may have it.
    fireEvent.click(screen.getByRole("radio", { name: "Concert" }));
    expect(screen.getByText("Free")).toBeTruthy();
  });

  test("every fact of every encoder is said", () => {
    for (const kit of Object.values(shippedKit))
      for (const [label, text] of encoderFacts(kit)) expect(`${label}: ${text}`).not.toMatch(/undefined|NaN|null|: $/);
  });

  test("a code is looked up before anybody is let in", async () => {
    answers.set("GET /api/kit", [{ ...item(), encoder: shippedKit["pocket-encoder"] }]);
    answers.set("GET /api/devices/BCDF-GHJK", { serial: "PK-0052", encoder: { id: "pocket-encoder", name: "Pocket encoder" }, leftS: 500 });
    answers.set("POST /api/devices/BCDF-GHJK", {});
    show(<CodePanel begin="" />);
    type("Code", "BCDF-GHJK");
    press("Look who asks");
    expect(await screen.findByText(/Pocket encoder, PK-0052, asks to be set from here\. It will be given the stream keys/)).toBeTruthy();
    expect(sent).toEqual([]);
    press("Let it in");
    expect(await screen.findByText("Pocket encoder may now fetch what it is to hold.")).toBeTruthy();
    expect(sent[0]?.body).toEqual({ encoderId: "pocket-encoder", approved: true });
  });
});

test("an account: why there is none, the code while it waits, and disconnecting", async () => {
  answers.set("GET /api/platforms/tallgate/account", { state: "none", why: "denied" } satisfies AccountNow);
  answers.set("POST /api/platforms/tallgate/account", {
    state: "waiting",
    userCode: "BCDF-GHJK",
    page: "http://h/approve",
    pageWithCode: "http://h/approve?code=BCDF-GHJK",
    expiresAt: new Date(Date.now() + 300_000).toISOString(),
  } satisfies AccountNow);
  show(<AccountPanel platformId="tallgate" name="Tallgate" />);
  expect(await screen.findByText("The code was refused on the platform's page.")).toBeTruthy();
  press("Connect Tallgate");
  expect(await screen.findByLabelText("Code BCDF-GHJK")).toBeTruthy();
  expect(screen.getByText("http://h/approve")).toBeTruthy();
  expect(screen.getByText(/It runs out in [45]:\d\d\./)).toBeTruthy();
});

describe("the next thing in Rig, by how the encoder is set", () => {
  const rig = (more: Partial<RigNow>): RigNow => ({
    destinationId: "d",
    platformId: "p",
    platformName: "Parishboard",
    others: [],
    encoderId: "k",
    encoderName: "Pocket encoder",
    setBy: "two fields",
    account: "connected",
    paired: null,
    toType: [],
    ingests: [],
    configuredAt: null,
    readBack: null,
    ...more,
  });
  const ingests: RigNow["ingests"] = [
    { role: "main", address: "rtmp://h", keyMasked: "•", receivedAt: "2026-06-10T12:00:00Z", fields: [] },
  ];
  const differs = { at: "2026-06-10T12:00:00Z", equal: false, fields: [] };
  test.each<[Partial<RigNow>, boolean, RegExp, string | null]>([
    [{}, false, /No settings/, "Go to Fit"],
    [{ account: "none" }, true, /has not let Ukaza in/, null],
    [{}, true, /hands out addresses/, "Create the broadcast"],
    [{ account: "by hand", toType: [{ role: "main", login: false, passphrase: false }] }, true, /Copy address and key/, null],
    [{ ingests, setBy: "code", paired: false }, true, /let in by a code/, "Approve a code"],
    [{ ingests, setBy: "code", paired: true }, true, /comes for them itself/, "Configure the encoder"],
    [{ ingests, setBy: "settings file" }, true, /as a file/, "Configure the encoder"],
    [{ ingests, setBy: "by hand" }, true, /into its own page/, "All of it is typed"],
    [{ ingests, setBy: "by hand", configuredAt: "x" }, true, /as soon as Parishboard receives/, "Go to Line-up"],
    [
      { ingests, setBy: "by hand", configuredAt: "x", toType: [{ role: "main", login: false, passphrase: false }] },
      true,
      /nothing of this can be checked/,
      "Go to Line-up",
    ],
    [{ ingests, setBy: "by hand", configuredAt: "x", readBack: differs }, true, /Correct what differs/, null],
    [{ ingests, configuredAt: "x", readBack: differs }, true, /Configure it again/, "Configure the encoder again"],
    [{ ingests, configuredAt: "x", readBack: { ...differs, equal: true } }, true, /exactly what it was told/, "Go to Line-up"],
  ])("%#", (more, chosen, sentence, word) => {
    const next = nextInRig(rig(more), chosen);
    expect(next.sentence).toMatch(sentence);
    expect(next.word).toBe(word);
    expect(next.word === null || next.go !== undefined || next.order !== undefined).toBe(true);
  });
});

test("address and key of a platform that nothing reaches are typed once, hidden, and gone from the screen when they are kept", async () => {
  const done = jest.fn();
  const asked = { role: "main" as const, login: true, passphrase: false };
  refusals.set("/api/events/e/rig/ingest", { status: 422, body: problem("the address looks like a stream key") });
  show(<TypeIngest eventId="e" asked={asked} platform="Any server" held={false} onDone={done} />);
  type("Address", "abcd-efgh");
  fireEvent.change(screen.getByLabelText("Stream key"), { target: { value: "rtmp://h/live" } });
  expect(screen.getByLabelText("Stream key").getAttribute("type")).toBe("password");
  press("Keep them");
  expect(await screen.findByText(/looks like a stream key/)).toBeTruthy();
  refusals.clear();
  answers.set("PUT /api/events/e/rig/ingest", {});
  type("Address", "rtmp://h/live");
  fireEvent.change(screen.getByLabelText("Stream key"), { target: { value: "abcd-efgh" } });
  press("Keep them");
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(sent.at(-1)?.body).toEqual({ role: "main", address: "rtmp://h/live", key: "abcd-efgh", login: null, passphrase: null });
  press("Type the main address and key anew");
  expect(screen.getByLabelText<HTMLInputElement>("Stream key").value).toBe("");
});

test("changes are said in words and units", () => {
  expect(placeText("audio.maxBps")).toBe("Audio, maximum");
  expect(placeText("protocols[srt].defaultPort")).toBe("Protocol srt, default port");
  expect(changeText({ path: "keyframe.maxS", before: 4, after: 5 }).what).toBe("4 s → 5 s");
  expect(changeText({ path: "recordings[Card].freeBytes", before: 1e9, after: 2e9 }).what).toBe("1.00 GB → 2.00 GB");
  expect(changeText({ path: "modes[640×360 h264 25]", before: null, after: { frameRates: ["30000/1001"], maxBps: 1_500_000 } }).what).toBe(
    "new: frame rates 29.97 frames/s, maximum 1.5 Mb/s",
  );
  expect(changeText({ path: "regions[north]", before: { id: "north", name: "North" }, after: null }).what).toBe(
    "gone; it was id north, name North",
  );
  expect(changeText({ path: "alsoTakes", before: [], after: ["whip"] }).what).toBe("nothing → whip");
});
