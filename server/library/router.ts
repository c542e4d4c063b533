import { importFile, libraryFile, librarySource } from "@ukaza/contract/library";
import { readAs } from "@ukaza/contract/problem";
import { Router } from "express";
import type { Context } from "../context";
import { saveEncoder } from "../kit/store";
import { addVersion } from "../platforms/store";
import { importDocument } from "./importDocument";
import { previewOf } from "./preview";

/** The doors through which documents come in: whole ones as they are, and files of the library by way of their differences. */
export function libraryRouter({ db, now }: Context): Router {
  const router = Router();
  router.post("/import", async (request, response) => {
    const document = readAs(importFile, request.body, "document");
    response.status(201).json({ id: await importDocument(db, document, now().toISOString()) });
  });
  router.post("/library/preview", async (request, response) => {
    response.json(await previewOf(db, readAs(librarySource, request.body, "source")));
  });
  router.post("/library/take", async (request, response) => {
    const document = readAs(libraryFile, request.body, "file");
    if (document.format === "ukaza-encoder") await saveEncoder(db, document);
    // How a platform is reached is the crew's own matter: a sheet from outside does not change it.
    else await addVersion(db, document.sheet, null, now().toISOString());
    response.status(201).json({ id: document.format === "ukaza-encoder" ? document.id : document.sheet.platform.id });
  });
  return router;
}
