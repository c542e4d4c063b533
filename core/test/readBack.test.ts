import { compareHeld, compareReceived } from "../rig/readBack";
import { seal, unseal } from "../rig/seal";
import { maskKey } from "../rig/secret";
import { settings, unsaid } from "./kit";

describe("read back", () => {
  const order = {
    feedId: "f-1",
    role: "main" as const,
    uplinkId: "line",
    address: "rtmp://host/live",
    key: "abcd-efgh-ijkl-mnop",
    credentials: unsaid,
  };
  const held = {
    engine: { settings },
    feeds: { "f-1": { address: order.address, key: order.key, uplinkId: "line", credentials: unsaid } },
  };

  test("all equal", () => {
    expect(compareHeld({ settings, feeds: [order] }, held).every((f) => f.equal)).toBe(true);
  });

  test("finds a trimmed key without showing either", () => {
    const rows = compareHeld({ settings, feeds: [order] }, { ...held, feeds: { "f-1": { ...held.feeds["f-1"], key: `${order.key} ` } } });
    const differing = rows.filter((f) => !f.equal);
    expect(differing.map((f) => f.field)).toEqual(["key"]);
    expect(JSON.stringify(rows)).not.toContain("abcd-efgh");
  });

  test("what is said beside the key is compared, and shown masked", () => {
    const login = { user: "crew-1", password: "correct-horse-9" };
    const wanted = { ...order, credentials: { ...unsaid, login, passphrase: "a-long-passphrase", userAgent: "Sender" } };
    const has = { ...held.feeds["f-1"], credentials: { ...unsaid, login: { ...login, password: "correct-horse-8" }, userAgent: "Other" } };
    const rows = compareHeld({ settings, feeds: [wanted] }, { ...held, feeds: { "f-1": has } }).filter((f) => !f.equal);
    expect(rows.map((f) => f.field)).toEqual(["password", "passphrase", "name of the sender"]);
    expect(JSON.stringify(rows)).not.toMatch(/correct-horse|a-long/);
  });

  test("what the platform receives is held against what was to be typed", () => {
    const differing = compareReceived(settings, "main", { ...settings, videoBps: 5_500_000, keyframeS: 4 }).filter((f) => !f.equal);
    expect(differing.map((f) => [f.field, f.wanted, f.held])).toEqual([
      ["videoBps", "5000000", "5500000"],
      ["keyframeS", "2", "4"],
    ]);
  });

  test("finds a missing feed, a feed nobody asked for, and an empty engine", () => {
    const rows = compareHeld(
      { settings, feeds: [order] },
      { engine: { settings: null }, feeds: { "f-9": { address: "x", key: "y", uplinkId: "z", credentials: unsaid } } },
    );
    expect(rows.filter((f) => f.equal)).toEqual([]);
    expect(rows.map((f) => f.field)).toContain("unasked feed");
    expect(rows.find((f) => f.field === "videoBps")?.held).toBe("nothing");
  });

  test("keys are masked, and sealed so that another key or a change is noticed", () => {
    expect(maskKey("abcd-efgh-ijkl-mnop")).toBe("••••••••mnop");
    expect(maskKey("short")).toBe("••••••••");
    const key = Buffer.alloc(32, 1);
    const sealed = seal("secret", key, Buffer.alloc(12, 2));
    expect(sealed).not.toContain("secret");
    expect(unseal(sealed, key)).toBe("secret");
    expect(() => unseal(sealed, Buffer.alloc(32, 3))).toThrow();
    const changed = Buffer.from(sealed, "base64");
    changed[changed.length - 1] = (changed.at(-1) ?? 0) ^ 1;
    expect(() => unseal(changed.toString("base64"), key)).toThrow();
  });
});
