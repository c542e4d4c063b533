import { sheetSave } from "@ukaza/contract/library";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { Router } from "express";
import type { Context } from "../context";
import { asDownload } from "../http/download";
import { addVersion, freshPlatformId, newestSheet, newestSheets, putSheet, removeSheets, sheetAt, sheetVersions } from "./store";

/** Rule sheets with their versions: read, written, exported. */
export function platformsRouter({ db, now }: Context): Router {
  const router = Router();
  const at = () => now().toISOString();

  router.get("/platforms", async (_request, response) => void response.json(await newestSheets(db, null)));
  router.get("/platforms/:id", async (request, response) => void response.json(await newestSheet(db, request.params.id)));
  router.get("/platforms/:id/versions", async (request, response) => void response.json(await sheetVersions(db, request.params.id)));
  router.get("/platforms/:id/versions/:revision", async (request, response) => {
    response.json(await sheetAt(db, request.params.id, Number.parseInt(request.params.revision, 10) || 0));
  });
  router.get("/platforms/:id/export", async (request, response) => {
    const { sheet, reach } = await newestSheet(db, request.params.id);
    asDownload(response, `${sheet.platform.id}-${sheet.revision}.json`, { format: "ukaza-platform", version: 1, reach, sheet });
  });

  router.post("/platforms", async (request, response) => {
    const { sheet, reach } = readAs(sheetSave, request.body, "rule sheet");
    const id = await freshPlatformId(db, sheet.platform.name);
    await putSheet(db, { ...sheet, revision: 1, platform: { ...sheet.platform, id } }, reach ?? { driver: "none" }, at());
    response.status(201).json(await newestSheet(db, id));
  });
  router.put("/platforms/:id", async (request, response) => {
    const { sheet, reach, from } = readAs(sheetSave, request.body, "rule sheet");
    const held = await newestSheet(db, request.params.id);
    if (sheet.platform.id !== held.sheet.platform.id)
      throw new Refusal(422, "other-platform", "this is the sheet of another platform", "Save it under its own platform.");
    if (from !== held.sheet.revision)
      throw new Refusal(
        409,
        "changed-meanwhile",
        `somebody saved version ${held.sheet.revision} while this one was being edited from version ${from}`,
        "Look at what changed in the versions, then save yours again on top of it.",
      );
    // Whole or not at all: the reach and the version belong together.
    await db.transaction(async (tx) => void (await addVersion(tx, sheet, reach ?? null, at())));
    response.json(await newestSheet(db, held.sheet.platform.id));
  });
  router.delete("/platforms/:id", async (request, response) => {
    await removeSheets(db, request.params.id);
    response.json({ removed: request.params.id });
  });
  return router;
}
