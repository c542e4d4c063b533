import { Refusal, readAs } from "@ukaza/contract/problem";
import express, { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { encoderOf, encodersOf } from "../kit/store";

const decision = z.strictObject({ encoderId: z.string().min(1), approved: z.boolean() });

/** Doors for encoders that are let in by a code, and for the person who approves it. */
export function devicesRouter({ db, devices, now }: Context): Router {
  const router = Router();
  const form = express.urlencoded({ extended: false, limit: "10kb" });
  router.post("/device/authorization", form, (request, response) => {
    const origin = `${request.protocol}://${request.get("host") ?? "127.0.0.1"}`;
    response.set("cache-control", "no-store").json(devices.authorize(request.body ?? {}, origin));
  });
  router.post("/device/token", form, async (request, response) => {
    const answer = await devices.token(request.body ?? {});
    response
      .status("error" in answer ? 400 : 200)
      .set("cache-control", "no-store")
      .json(answer);
  });
  router.get("/device/config", async (request, response) => {
    const config = await devices.configFor(request.get("authorization"));
    response.set("cache-control", "no-store");
    if (config) response.json(config);
    else response.status(204).end();
  });

  /** Which encoder waits with a code: known by its serial number. */
  router.get("/devices/:code", async (request, response) => {
    const found = devices.waitingWith(request.params.code);
    const known = (await encodersOf(db, null)).find((e) => e.setBy === "code" && e.serial !== "" && e.serial === found.clientId);
    const leftS = Math.max(0, Math.round(found.expiresS - (now().getTime() - found.issuedMs) / 1000));
    response.json({ serial: found.clientId, encoder: known ? { id: known.id, name: known.name } : null, leftS });
  });
  router.post("/devices/:code", async (request, response) => {
    const { encoderId, approved } = readAs(decision, request.body, "decision");
    const encoder = await encoderOf(db, encoderId);
    if (encoder.setBy !== "code")
      throw new Refusal(409, "not-by-code", `${encoder.name} is not set by a code`, "Correct the encoder under Kit, or choose another.");
    devices.decide(request.params.code, encoderId, approved);
    response.json({ encoderId, approved });
  });
  return router;
}
