import { stepId } from "@ukaza/contract/lineup";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import type { StepTaken } from "../live/liveEvent";

/** The platform's own steps are taken by hand only where nothing reaches it; else they wait, and are refused. */
const taken = stepId;
/** Steps that cannot be taken back want to be named a second time. */
const confirmBody = z.strictObject({ confirm: z.string().optional() }).default({});
const irreversible: readonly StepTaken[] = ["public", "end"];

/** The run sheet and its steps. Every step may be sent twice. */
export function lineupRouter({ live }: Context): Router {
  const router = Router();
  router.get("/events/:id/lineup", async (request, response) => {
    response.json(await live.look(request.params.id, (event, at) => event.sheetNow(at)));
  });
  router.post("/events/:id/lineup/steps/:step", async (request, response) => {
    const step = taken.safeParse(request.params.step);
    if (!step.success)
      throw new Refusal(
        404,
        "no-such-step",
        `"${request.params.step}" is not a step that is taken by hand`,
        `Steps: ${taken.options.join(", ")}.`,
      );
    const { confirm } = readAs(confirmBody, request.body, "step");
    if (irreversible.includes(step.data) && confirm !== step.data) {
      throw new Refusal(
        422,
        "not-confirmed",
        `"${step.data}" cannot be taken back and was not confirmed`,
        `Send {"confirm":"${step.data}"}.`,
      );
    }
    response.json(
      await live.order(request.params.id, async (event, now) => {
        await event.take(step.data, now);
        return event.sheetNow(now.toISOString());
      }),
    );
  });
  router.post("/events/:id/lineup/unsend", async (request, response) => {
    response.json(
      await live.order(request.params.id, async (event, now) => {
        await event.unsend(now);
        return event.sheetNow(now.toISOString());
      }),
    );
  });
  return router;
}
