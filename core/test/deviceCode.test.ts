import fc from "fast-check";
import { afterRefusal, type DeviceGrant, pollGrant, shownCode, typedCode, userCodeOf } from "../rig/deviceCode";

const grant = (more: Partial<DeviceGrant> = {}): DeviceGrant => ({
  deviceCode: "d",
  userCode: "BCDFGHJK",
  clientId: "PK-1",
  issuedMs: 0,
  expiresS: 600,
  intervalS: 5,
  polledMs: null,
  state: "pending",
  ...more,
});

describe("a code that is approved elsewhere (RFC 8628)", () => {
  test("pending, too fast, approved, denied, run out", () => {
    expect(pollGrant(grant(), 5_000).answer).toBe("authorization_pending");
    expect(pollGrant(grant({ polledMs: 5_000 }), 9_400)).toMatchObject({ answer: "slow_down", grant: { intervalS: 10, polledMs: 9_400 } });
    expect(pollGrant(grant({ polledMs: 5_000 }), 9_600).answer).toBe("authorization_pending");
    expect(pollGrant(grant({ state: "approved" }), 10_000).answer).toBe("granted");
    expect(pollGrant(grant({ state: "denied" }), 10_000).answer).toBe("access_denied");
    expect(pollGrant(grant({ state: "approved" }), 600_000).answer).toBe("expired_token");
  });

  test("the asking side waits longer when told to, and gives up when it is over", () => {
    expect(afterRefusal("authorization_pending", 5)).toEqual({ again: 5 });
    expect(afterRefusal("slow_down", 5)).toEqual({ again: 10 });
    expect(afterRefusal("access_denied", 5)).toEqual({ ended: "denied" });
    expect(afterRefusal("expired_token", 5)).toEqual({ ended: "expired" });
    expect(afterRefusal("invalid_grant", 5)).toEqual({ ended: "expired" });
  });

  test("one that asks as told is never told to slow down, and in the end is let in", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 60 }), (intervalS, approvedAfter) => {
        let now = grant({ intervalS, expiresS: 10_000 });
        for (let polls = 1; polls <= approvedAfter; polls++) {
          const next = pollGrant(now, polls * intervalS * 1000);
          expect(next.answer).toBe("authorization_pending");
          now = next.grant;
        }
        expect(pollGrant({ ...now, state: "approved" }, (approvedAfter + 1) * intervalS * 1000).answer).toBe("granted");
      }),
    );
  });

  test("codes have eight letters without vowels, and are read however they are typed", () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 64, maxLength: 64 }), (bytes) => {
        fc.pre(bytes.filter((b) => b < 240).length >= 8);
        const code = userCodeOf(bytes);
        expect(code).toMatch(/^[BCDFGHJKLMNPQRSTVWXZ]{8}$/);
        expect(typedCode(` ${shownCode(code).toLowerCase()} `)).toBe(code);
      }),
    );
    expect(() => userCodeOf(new Uint8Array(7))).toThrow(/not enough/);
  });
});
