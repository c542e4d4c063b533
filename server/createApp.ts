import { existsSync } from "node:fs";
import { join } from "node:path";
import express, { type Express } from "express";
import helmet from "helmet";
import { accountsRouter } from "./accounts/router";
import { airRouter } from "./air/router";
import type { Context } from "./context";
import { devicesRouter } from "./devices/router";
import { eventsRouter } from "./events/router";
import { fitRouter } from "./fit/router";
import { asProblem, notFound } from "./http/problems";
import { kitRouter } from "./kit/router";
import { libraryRouter } from "./library/router";
import { lineTestRouter } from "./lineTest/router";
import { lineupRouter } from "./lineup/router";
import { platformsRouter } from "./platforms/router";
import { rigRouter } from "./rig/router";
import { surveyRouter } from "./survey/router";
import { venuesRouter } from "./venues/router";
import { wrapRouter } from "./wrap/router";

/** A season's record of samples fits; nothing else comes near it. */
const BODY_LIMIT = "25mb";

/** The whole HTTP face: the interface under /api, and the web app from `webFolder` for every other address. */
export function createApp(context: Context, webFolder: string | null): Express {
  const app = express();
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          // React Native for the web writes its styles into the page as it runs.
          styleSrc: ["'self'", "'unsafe-inline'"],
          // The page is served over plain HTTP on the crew's own network.
          upgradeInsecureRequests: null,
          workerSrc: ["'self'", "blob:"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  const api = express.Router();
  api.use(express.json({ limit: BODY_LIMIT }));
  api.get("/health", (_request, response) => void response.json({ ok: true, pid: process.pid, standins: context.drivers.line !== null }));
  for (const router of [
    eventsRouter,
    libraryRouter,
    platformsRouter,
    kitRouter,
    accountsRouter,
    devicesRouter,
    venuesRouter,
    surveyRouter,
    lineTestRouter,
    fitRouter,
    rigRouter,
    lineupRouter,
    airRouter,
    wrapRouter,
  ])
    api.use(router(context));
  api.use(notFound);
  app.use("/api", api);
  if (webFolder !== null && existsSync(webFolder)) {
    app.use(express.static(webFolder, { index: false, maxAge: "1h" }));
    // A missing file is a 404; only addresses of screens get the page.
    app.get(
      /^[^.]*$/,
      (_request, response) => void response.sendFile(join(webFolder, "index.html"), { headers: { "cache-control": "no-cache" } }),
    );
  }
  app.use(notFound);
  app.use(asProblem(context.log));
  return app;
}
