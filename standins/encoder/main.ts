import { readFileSync } from "node:fs";
import { encoder } from "@ukaza/contract/encoder";
import { readAs } from "@ukaza/contract/problem";
import { encoderConfig } from "@ukaza/contract/standins";
import { argument, endWithParent, serve, standinApp } from "../shared/serve";
import { openStore } from "../shared/store";
import { everySecond } from "../shared/ticker";
import { EncoderDevice, type EncoderMemory } from "./encoder";

async function main() {
  const kit = readAs(encoder, JSON.parse(readFileSync(argument("kit"), "utf8")), "encoder");
  const folder = argument("data", "");
  const memory = openStore<EncoderMemory>(folder === "" ? null : folder, `encoder-${kit.id}`, {
    config: { engine: { settings: null }, feeds: {} },
    sending: [],
  });
  const device = new EncoderDevice(kit, memory, argument("line"));
  const app = standinApp(__dirname);
  app.get("/v1/encoder", (_request, response) => void response.json(kit));
  app.get("/v1/config", (_request, response) => void response.json(device.held()));
  app.put("/v1/config", (request, response) => void response.json(device.configure(readAs(encoderConfig, request.body, "configuration"))));
  app.get("/v1/status", (_request, response) => void response.json(device.status(new Date())));
  app.post("/v1/feeds/:id/start", (request, response) => {
    device.start(request.params.id);
    response.json(device.status(new Date()));
  });
  app.post("/v1/feeds/:id/stop", (request, response) => {
    device.stop(request.params.id);
    response.json(device.status(new Date()));
  });
  everySecond(() => device.tick());
  await serve(app, Number(argument("port", "0")), "encoder");
  endWithParent();
}

void main();
