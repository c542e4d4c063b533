import { readFileSync } from "node:fs";
import { platformFile } from "@ukaza/contract/library";
import { readAs } from "@ukaza/contract/problem";
import { broadcastOrder, mediaSecond, sourceOrder } from "@ukaza/contract/standins";
import { argument, endWithParent, serve, standinApp } from "../shared/serve";
import { openStore } from "../shared/store";
import { Platform, type PlatformMemory } from "./platform";

async function main() {
  const { sheet } = readAs(platformFile, JSON.parse(readFileSync(argument("sheet"), "utf8")), "platform");
  const folder = argument("data", "");
  const memory = openStore<PlatformMemory>(folder === "" ? null : folder, `platform-${sheet.platform.id}`, { broadcasts: [] });
  let port = 0;
  const platform = new Platform(sheet, memory, () => `127.0.0.1:${port}`, Number(argument("waits", "1")));
  const app = standinApp(__dirname);
  app.post("/v1/broadcasts", (request, response) => {
    response.status(201).json(platform.create(readAs(broadcastOrder, request.body, "broadcast"), new Date()));
  });
  app.get("/v1/broadcasts/:id", (request, response) => void response.json(platform.show(platform.find(request.params.id), new Date())));
  app.post("/v1/broadcasts/:id/public", (request, response) => {
    const held = platform.find(request.params.id);
    platform.goPublic(held, new Date());
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
    platform.receive(request.params.path, request.get("x-stream-key") ?? "", readAs(mediaSecond, request.body, "media"), new Date());
    response.status(204).end();
  });
  const server = await serve(app, Number(argument("port", "0")), "platform");
  port = server.port;
  endWithParent();
}

void main();
