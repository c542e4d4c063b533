import type { DestinationDemands } from "@ukaza/contract/demands";
import { type EventNow, event as eventSchema } from "@ukaza/contract/event";
import { type FitProblem, fitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { demandsOf } from "@ukaza/core/fit/asked";
import { desk, shippedSheets } from "../../core/test/kit";
import { FitStage } from "../stages/fit/FitStage";
import { answers, event, now, sent, show } from "./page";

const demandsIn = (p: FitProblem) => p.destinations.map(({ sheet: _sheet, ...own }) => own);

/** The event, and what the stage reads of it, for a problem. */
export function openFit(asked: FitProblem, more: Partial<FitNow> = {}, eventMore: object = {}): EventNow {
  const destinations = demandsIn(asked).map((d) => ({ ...d, platformId: d.id, title: "T", access: "public" }));
  const own = eventSchema.parse({ ...event, destinations, encoderIds: asked.encoders.map((e) => e.id), ...eventMore });
  const fit: FitNow = {
    problem: asked,
    unmeasured: [],
    uplinkNames: { "line-1": "Hall fibre", "line-2": "Hotspot" },
    sustainableBps: Object.fromEntries(asked.uplinks.map((u) => [u.id, u.usableBps * 1.25])),
    metered: {},
    spare: [],
    chosen: null,
    plans: [],
    fixed: false,
    ...more,
  };
  answers.set("GET /api/events/e", { ...now, event: own });
  answers.set("GET /api/events/e/fit", fit);
  answers.set("PUT /api/events/e/demands", (asks: ReturnType<typeof demandsOf>) => {
    const platform = { platformId: "oriel-public", title: "T", access: "public" };
    const changed = eventSchema.parse({ ...own, ...asks, destinations: asks.destinations.map((d) => ({ ...platform, ...d })) });
    answers.set("GET /api/events/e", { ...now, event: changed });
    return fit;
  });
  show(<FitStage eventId="e" />);
  return { ...now, event: own };
}

/** Two platforms at the desk, over one line. */
export const two = (usableBps: number, first: Partial<DestinationDemands> = {}) =>
  fitProblem.parse({
    uplinks: [{ id: "line-1", usableBps }],
    encoders: [desk],
    destinations: [
      { id: "oriel", sheet: shippedSheets["oriel-public"], weight: 5, ...first },
      { id: "parish", sheet: shippedSheets.parishboard, weight: 1, must: false },
    ],
    source: { width: 1920, height: 1080, frameRate: "50", scan: "progressive" },
    content: "stage",
  });

/** What the server was last asked of the fit. */
export const putDemands = () => sent.findLast((s) => s.path.endsWith("/demands"))?.body as ReturnType<typeof demandsOf> | undefined;
