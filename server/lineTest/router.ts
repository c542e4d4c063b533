import { lineTestOrder } from "@ukaza/contract/lineTest";
import { readAs } from "@ukaza/contract/problem";
import { Router } from "express";
import type { Context } from "../context";
import { uplinkOf } from "../venues/store";

/** The most that one request of the phone test may carry. */
const PHONE_TEST_BYTES = 32_000_000;

/** Built-in tests of an uplink, and of the way from a phone to this server. */
export function lineTestRouter({ db, lineTests }: Context): Router {
  const router = Router();
  router.get("/uplinks/:id/tests", async (request, response) => {
    const { uplink } = await uplinkOf(db, request.params.id);
    response.json(await lineTests.list(uplink.id));
  });
  router.post("/uplinks/:id/tests", async (request, response) => {
    const { uplink } = await uplinkOf(db, request.params.id);
    response.status(202).json(await lineTests.order(uplink.id, readAs(lineTestOrder, request.body, "test")));
  });
  router.delete("/uplinks/:id/tests", async (request, response) => {
    const { uplink } = await uplinkOf(db, request.params.id);
    response.json({ cancelled: await lineTests.cancelPlanned(uplink.id) });
  });
  router.delete("/tests/:id", async (request, response) => void response.json(await lineTests.cancel(request.params.id)));

  router.get("/phone-test", (_request, response) => void response.set("cache-control", "no-store").json({ ok: true }));
  // Counted as it comes in and thrown away; the times are this server's.
  router.post("/phone-test", (request, response) => {
    let bytes = 0;
    let firstMs = 0;
    request.on("data", (chunk: Buffer) => {
      if (bytes === 0) firstMs = performance.now();
      bytes += chunk.length;
      if (bytes > PHONE_TEST_BYTES) request.destroy();
    });
    request.on("end", () => void response.json({ bytes, firstMs, lastMs: performance.now() }));
  });
  return router;
}
