import { readFileSync } from "node:fs";
import { platformFile } from "@ukaza/contract/library";
import { readAs } from "@ukaza/contract/problem";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { broadcastOrder, credentials, mediaSecond, sourceOrder } from "@ukaza/contract/standins";
import type { Request } from "express";
import { argument, argumentsOf, endWithParent, sayReady, serve, standinApp } from "../shared/serve";
import { openStore } from "../shared/store";
import { Approval } from "./approval";
import { freshPlatform, Platform, type PlatformMemory } from "./platform";

/** What a sender says beside its key, from the headers of one second of media. */
function saidIn(request: Request) {
  const [, basic = ""] = /^Basic (.+)$/.exec(request.get("authorization") ?? "") ?? [];
  const [, user, password] = /^([^:]*):(.*)$/s.exec(Buffer.from(basic, "base64").toString("utf8")) ?? [];
  return readAs(
    credentials,
    {
      login: user && password ? { user, password } : null,
      passphrase: request.get("x-passphrase") ?? null,
      streamId: request.get("x-stream-id") ?? null,
      userAgent: request.get("x-sender") ?? null,
    },
    "credentials",
  );
}

/** Opens one platform on a port of its own. */
async function open(sheet: RuleSheet, port: number, folder: string, waits: number): Promise<number> {
  const memory = openStore<PlatformMemory>(folder === "" ? null : folder, `platform-${sheet.platform.id}`, freshPlatform());
  let origin = "";
  const platform = new Platform(sheet, memory, () => origin, waits);
  const approval = new Approval(memory, () => origin);
  const app = standinApp(__dirname);
  approval.mount(app, sheet.platform.name);
  app.get("/v1/rules", (_request, response) => void response.json(sheet));
  app.use("/v1/broadcasts", (request, _response, next) => {
    approval.mustBeLetIn(request.get("authorization"));
    next();
  });
  app.post("/v1/broadcasts", (request, response) => {
    response.status(201).json(platform.create(readAs(broadcastOrder, request.body, "broadcast"), new Date()));
  });
  app.get("/v1/broadcasts/:id", (request, response) => void response.json(platform.show(platform.find(request.params.id), new Date())));
  app.post("/v1/broadcasts/:id/public", (request, response) => {
    const held = platform.find(request.params.id);
    platform.goPublic(held, new Date());
    response.json(platform.show(held, new Date()));
  });
  app.post("/v1/broadcasts/:id/private", (request, response) => {
    const held = platform.find(request.params.id);
    platform.goPrivate(held);
    response.json(platform.show(held, new Date()));
  });
  app.post("/v1/broadcasts/:id/end", (request, response) => {
    const held = platform.find(request.params.id);
    platform.end(held, new Date());
    response.json(platform.show(held, new Date()));
  });
  app.put("/v1/broadcasts/:id/source", (request, response) => {
    const held = platform.find(request.params.id);
    platform.setSource(held, readAs(sourceOrder, request.body, "source").role);
    response.json(platform.show(held, new Date()));
  });
  app.post("/ingest/:path", (request, response) => {
    const media = readAs(mediaSecond, request.body, "media");
    platform.receive(request.params.path, request.get("x-stream-key") ?? "", media, new Date(), saidIn(request));
    response.status(204).end();
  });
  const server = await serve(app, port);
  origin = `127.0.0.1:${server.port}`;
  return server.port;
}

/** `--sheet file=port` for each platform; they share a process and nothing else. */
async function main() {
  const ports: Record<string, number> = {};
  for (const given of argumentsOf("sheet")) {
    const [file = "", port = "0"] = given.split("=");
    const { sheet } = readAs(platformFile, JSON.parse(readFileSync(file, "utf8")), "platform");
    ports[sheet.platform.id] = await open(sheet, Number(port), argument("data", ""), Number(argument("waits", "1")));
  }
  sayReady(ports);
  endWithParent();
}

void main();
