import type { KitUse } from "@ukaza/contract/kit";
import { claimedSpan, claimsIn, doubleBookings, sharedSpan } from "../rig/bookings";

const t = (clock: string) => `2026-06-10T${clock}:00.000Z`;
const use = (eventId: string, from: string, until: string, more: Partial<KitUse> = {}): KitUse => ({
  encoderId: "desk",
  eventId,
  eventName: eventId,
  venueName: "Hall",
  timeZone: "UTC",
  from: t(from),
  until: t(until),
  planned: true,
  out: null,
  ...more,
});

test("a show holds its encoders from two hours before to one hour after", () => {
  expect(claimedSpan({ start: "2026-06-10T19:30:00+01:00", end: "2026-06-10T21:30:00+01:00" })).toEqual({
    from: t("16:30"),
    until: t("21:30"),
  });
});

test("spans that touch share nothing; that overlap, what lies in both", () => {
  expect(sharedSpan(use("a", "10:00", "12:00"), use("b", "12:00", "14:00"))).toBeNull();
  expect(sharedSpan(use("a", "10:00", "13:00"), use("b", "12:00", "14:00"))).toEqual({ from: t("12:00"), until: t("13:00") });
});

test("double bookings: each pair once, the next trouble first, no event against itself or another encoder", () => {
  const uses = [
    use("late", "18:00", "22:00"),
    use("noon", "11:00", "13:00"),
    use("long", "12:00", "19:00"),
    use("long", "12:00", "19:00", { planned: false }),
    use("elsewhere", "12:00", "19:00", { encoderId: "pack" }),
  ];
  const found = doubleBookings(uses).map((d) => [[d.a.eventId, d.b.eventId].sort().join("+"), d.from, d.until]);
  expect(found[0]).toEqual(["long+noon", t("12:00"), t("13:00")]);
  expect(new Set(found.map(([pair]) => pair))).toEqual(new Set(["long+noon", "late+long"]));
});

test("free tonight: not while another event claims it, nor while it never came back; its own event is no hindrance", () => {
  const span = { from: t("18:00"), until: t("23:00") };
  const out = { at: t("08:00"), by: "Ana" };
  expect(claimsIn([use("noon", "11:00", "13:00")], "desk", span)).toEqual([]);
  expect(claimsIn([use("noon", "11:00", "13:00", { out })], "desk", span).map((u) => u.eventId)).toEqual(["noon"]);
  expect(claimsIn([use("show", "17:00", "22:00")], "desk", span).map((u) => u.eventId)).toEqual(["show"]);
  expect(claimsIn([use("show", "17:00", "22:00")], "desk", span, "show")).toEqual([]);
  expect(claimsIn([use("show", "17:00", "22:00")], "pack", span)).toEqual([]);
});
