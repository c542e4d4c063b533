import { ingestProtocol } from "@ukaza/contract/ruleSheet";
import fc from "fast-check";
import { credentialsFor, fieldsToType, joinKey, withPort } from "../rig/compose";
import { typedIngestFault } from "../rig/typedIngest";

const way = (more: object = {}) => ingestProtocol.parse({ protocol: "rtmp", defaultPort: 1935, ...more });
const out = { address: "rtmp://in.example/live", key: "abcd-efgh", login: null, passphrase: null };

describe("address and key", () => {
  test.each([
    ["rtmp://in.example/live", "/", "k", "rtmp://in.example/live/k"],
    ["rtmp://in.example/live/", "/", "k", "rtmp://in.example/live/k"],
    ["rtmp://in.example/live//", "/", "/k ", "rtmp://in.example/live/k"],
    ["rtmp://in.example/live", "?key=", "k", "rtmp://in.example/live?key=k"],
    ["rtmp://in.example/live", "", "k", "rtmp://in.example/livek"],
  ])("%s and %s join to one", (address, separator, key, joined) => {
    expect(joinKey(address, separator, key)).toBe(joined);
  });

  test("a separator is never missing and never doubled", () => {
    const end = fc.stringMatching(/^[a-z0-9]{1,8}$/);
    fc.assert(
      fc.property(end, end, fc.nat(3), fc.nat(3), (path, key, behind, before) => {
        const joined = joinKey(`rtmp://h/${path}${"/".repeat(behind)}`, "/", `${"/".repeat(before)}${key}`);
        expect(joined).toBe(`rtmp://h/${path}/${key}`);
      }),
    );
  });

  test.each([
    ["rtmp://in.example/live", { defaultPort: 1935 }, "rtmp://in.example/live"],
    ["rtmp://in.example/live", { defaultPort: 1936 }, "rtmp://in.example:1936/live"],
    ["rtmp://in.example:80/live", { defaultPort: 1936 }, "rtmp://in.example:80/live"],
    ["rtmps://in.example/live", { protocol: "rtmps", defaultPort: 443 }, "rtmps://in.example/live"],
    ["srt://in.example", { protocol: "srt", defaultPort: 9000 }, "srt://in.example:9000"],
    ["srt://[2001:db8::1]", { protocol: "srt", defaultPort: 9000 }, "srt://[2001:db8::1]:9000"],
    ["no address", { defaultPort: 1936 }, "no address"],
  ])("%s with the port that must be written", (address, more, written) => {
    expect(withPort(address, way(more))).toBe(written);
  });

  test("one field, two fields, and what is said beside them", () => {
    expect(fieldsToType(way(), out, "one field")).toEqual([
      { label: "Address with key", value: "rtmp://in.example/live/abcd-efgh", secret: true },
    ]);
    expect(fieldsToType(way({ userAgent: "Sender" }), { ...out, login: { user: "crew", password: "pass" } }, "two fields")).toEqual([
      { label: "Address", value: "rtmp://in.example/live", secret: false },
      { label: "Stream key", value: "abcd-efgh", secret: true },
      { label: "User name", value: "crew", secret: false },
      { label: "Password", value: "pass", secret: true },
      { label: "Name of the sender", value: "Sender", secret: false },
    ]);
    // A key that is given apart cannot be joined, whatever the encoder would like.
    expect(fieldsToType(way({ separator: "" }), out, "one field").map((f) => f.label)).toEqual(["Address", "Stream key"]);
  });

  test("SRT: the key stands in the stream ID; one field takes it all as a query", () => {
    const srt = way({
      protocol: "srt",
      defaultPort: 9000,
      separator: "",
      srtMode: "caller",
      streamId: "publish:{key}",
      passphrase: "required",
    });
    const given = { ...out, address: "srt://in.example", passphrase: "long enough" };
    expect(credentialsFor(srt, given)).toMatchObject({ streamId: "publish:abcd-efgh", passphrase: "long enough" });
    expect(fieldsToType(srt, given, "two fields").map((f) => [f.label, f.value])).toEqual([
      ["Address", "srt://in.example:9000"],
      ["Stream ID", "publish:abcd-efgh"],
      ["Passphrase", "long enough"],
    ]);
    const [one] = fieldsToType(srt, given, "one field");
    expect(one?.value).toBe("srt://in.example:9000?mode=caller&streamid=publish%3Aabcd-efgh&passphrase=long+enough");
  });
});

describe("address and key as people copy them", () => {
  test.each([
    ["rtmp://in.example/live", "abcd-efgh", "rtmp", null],
    [" rtmp://in.example/live ", " abcd-efgh ", "rtmp", null],
    ["", "abcd", "rtmp", "empty"],
    ["rtmp://in.example/ live", "abcd", "rtmp", "space"],
    ["in.example/live", "abcd", "rtmp", "no-scheme"],
    ["abcd-efgh-ijkl-mnop", "rtmp://in.example/live", "rtmp", "key-in-address"],
    ["rtmps://in.example/live", "abcd", "rtmp", "other-protocol"],
    ["rtmp://in.example/live", "", "rtmp", "empty"],
    ["rtmp://in.example/live", "rtmp://in.example/live", "rtmp", "address-in-key"],
    ["rtmp://in.example/live", "ab cd", "rtmp", "space"],
    ["rtmp://in.example/live/abcd", "abcd", "rtmp", "key-at-end"],
    ["srt://in.example:9000", "abcd", "srt", null],
  ] as const)("%s with %s over %s: %s", (address, key, protocol, code) => {
    expect(typedIngestFault(address, key, protocol)?.code ?? null).toBe(code);
  });
});
