import { readFileSync } from "node:fs";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { carryOrder, lineTrouble } from "@ukaza/contract/standins";
import type { LineModel } from "@ukaza/core/survey/lineModel";
import { argument, endWithParent, sayReady, serve, standinApp } from "../shared/serve";
import { everySecond } from "../shared/ticker";
import { Line } from "./line";

const noUplink = (id: string) => new Refusal(404, "no-such-uplink", `there is no uplink "${id}"`, "GET /v1/uplinks lists them.");

async function main() {
  const file = JSON.parse(readFileSync(argument("file"), "utf8")) as { seed: number; timeZone: string; uplinks: Record<string, LineModel> };
  const line = new Line(file.uplinks, file.seed, file.timeZone);
  const app = standinApp(__dirname);
  app.get("/v1/uplinks", (_request, response) => void response.json(line.list()));
  app.post("/v1/uplinks/:id/trouble", (request, response) => {
    if (!line.setTrouble(request.params.id, readAs(lineTrouble, request.body, "trouble"))) throw noUplink(request.params.id);
    response.json(line.list().find((u) => u.id === request.params.id));
  });
  app.post("/v1/uplinks/:id/carry", async (request, response) => {
    const carried = await line.carry(request.params.id, readAs(carryOrder, request.body, "carry"), new Date());
    if (!carried) throw noUplink(request.params.id);
    response.json(carried);
  });
  const reflector = argument("reflector", "");
  if (reflector) await line.openEntries({ host: "127.0.0.1", port: Number(reflector) });
  everySecond((now) => line.tick(now));
  const { port } = await serve(app, Number(argument("port", "0")));
  sayReady({ line: port });
  endWithParent();
}

void main();
