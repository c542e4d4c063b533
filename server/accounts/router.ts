import { Router } from "express";
import type { Context } from "../context";
import { newestSheet } from "../platforms/store";

/** Letting this server in on a platform, by a code that is approved there. */
export function accountsRouter({ db, accounts, drivers }: Context): Router {
  const router = Router();
  const reachOf = async (id: string) => (await newestSheet(db, id)).reach;
  router.get("/platforms/:id/account", async (request, response) => {
    response.json(accounts.stateOf(await reachOf(request.params.id)));
  });
  router.post("/platforms/:id/account", async (request, response) => {
    const reach = await reachOf(request.params.id);
    await accounts.ask(reach, drivers);
    response.status(201).json(accounts.stateOf(reach));
  });
  router.delete("/platforms/:id/account", async (request, response) => {
    const reach = await reachOf(request.params.id);
    await accounts.forget(reach);
    response.json(accounts.stateOf(reach));
  });
  return router;
}
