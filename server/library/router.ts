import type { Encoder } from "@ukaza/contract/encoder";
import { importFile } from "@ukaza/contract/library";
import { readAs } from "@ukaza/contract/problem";
import { ruleSheet } from "@ukaza/contract/ruleSheet";
import { Router } from "express";
import type { Context } from "../context";
import { queries } from "../db/queries";
import { importDocument } from "./importDocument";

const q = queries(__dirname);

/** Venues, platforms and kit, and the one door through which documents come in. */
export function libraryRouter({ db, now }: Context): Router {
  const router = Router();
  router.post("/import", async (request, response) => {
    const document = readAs(importFile, request.body, "document");
    response.status(201).json({ id: await importDocument(db, document, now().toISOString()) });
  });
  router.get(
    "/platforms",
    async (_request, response) =>
      void response.json((await db.query<{ doc: unknown }>(q("sheets"))).rows.map((row) => ruleSheet.parse(row.doc))),
  );
  router.get(
    "/encoders",
    async (_request, response) => void response.json((await db.query<{ doc: Encoder }>(q("encoders"))).rows.map((row) => row.doc)),
  );
  return router;
}
