import { act, fireEvent, screen } from "@testing-library/react";
import type { LineTest } from "@ukaza/contract/lineTest";
import type { ListedMeasurement, MeasurementPage, Survey, UplinkSurvey } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import { analyse } from "@ukaza/core/survey/analyse";
import { readingOf } from "@ukaza/core/survey/reading";
import { measured, oriel, uplink } from "../../core/test/kit";
import { SurveyStage } from "../stages/survey/SurveyStage";
import { answers, event, now, show } from "./page";

export const question = { show: event.show, timeZone: "UTC", asOf: "2026-06-10T12:00:00Z", reserveOverride: null };
export const readings = (rates: number[]) =>
  rates.map((mbps, i) =>
    readingOf(measured(`2026-06-09T19:${String(10 + i).padStart(2, "0")}:00Z`, mbps, { rttMs: 14, lossRatio: 0.0001 })),
  );

export function surveyed(more: Partial<Uplink>, rates: number[]): UplinkSurvey {
  const { result, path, hours, days, bins } = analyse(readings(rates), question);
  return { uplink: uplink(more), result, bonded: null, path, hours, days, bins, regions: [], busy: false };
}
export const survey = (uplinks: UplinkSurvey[]): Survey => ({ venueId: "v", timeZone: "UTC", show: event.show, uplinks });

/** The server's page of the list, from the same readings. */
export function listPage(rates: number[], more: Partial<ListedMeasurement> = {}): MeasurementPage {
  const rows = readings(rates).map((r, i) => ({
    id: `m-${i}`,
    takenAt: new Date(r.takenAtMs).toISOString(),
    ownIpBps: r.ownIpBps,
    atShowBps: r.ownIpBps,
    source: "csv" as const,
    floor: false,
    rttMs: 14,
    jitterMs: null,
    lossRatio: 0.0001,
    counts: true,
    outlier: null,
    excluded: null,
    ...more,
  }));
  return { total: rows.length, skip: 0, rows };
}
export const listPath = "GET /api/uplinks/hall/measurements?event=e&sort=time&order=desc&show=all&skip=0&take=25";

export function open(uplinks: UplinkSurvey[], tests: LineTest[] = []) {
  answers.set("GET /api/events/e", now);
  answers.set("GET /api/events/e/survey", survey(uplinks));
  answers.set("GET /api/platforms", [{ sheet: oriel }]);
  for (const u of uplinks) answers.set(`GET /api/uplinks/${u.uplink.id}/tests`, tests);
  show(<SurveyStage eventId="e" />);
}
export const button = (name: string | RegExp) => screen.findByRole("button", { name });
/** Presses, and lets what that sets going come to rest. */
export const click = (element: HTMLElement) =>
  act(async () => {
    fireEvent.click(element);
  });
export const press = async (name: string | RegExp) => click(await button(name));
export const part = async (name: string) => click(await screen.findByRole("radio", { name }));
export const type = (label: string, value: string) =>
  void fireEvent.change(screen.getByRole("textbox", { name: label }), { target: { value } });
