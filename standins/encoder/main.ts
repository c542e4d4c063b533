import { readFileSync } from "node:fs";
import { type Encoder, encoder } from "@ukaza/contract/encoder";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { type EncoderHeld, encoderConfig, lineUplink, settingsFile } from "@ukaza/contract/standins";
import type { Request, Response } from "express";
import { argument, argumentsOf, endWithParent, sayReady, serve, standinApp } from "../shared/serve";
import { openStore } from "../shared/store";
import { everySecond } from "../shared/ticker";
import { typedConfig } from "./byHand";
import { EncoderDevice, type EncoderMemory, freshEncoder } from "./encoder";
import { facePage } from "./facePage";
import { Pairing } from "./pairing";

/** Opens one encoder on a port of its own, with the doors that its kind has and no others. */
async function open(kit: Encoder, port: number, folder: string, lineUrl: string): Promise<number> {
  const memory = openStore<EncoderMemory>(folder === "" ? null : folder, `encoder-${kit.id}`, freshEncoder());
  const device = new EncoderDevice(kit, memory, lineUrl);
  const pairing = kit.setBy === "code" ? new Pairing(kit.serial, device, memory) : null;
  const byHand = kit.reach.driver === "none";
  const app = standinApp(__dirname);

  const uplinks = async () => {
    const answer = await fetch(`${lineUrl}/v1/uplinks`).catch(() => null);
    return answer ? lineUplink.array().parse(await answer.json()) : [];
  };
  const show = async (response: Response, said: string | null) =>
    void response.type("html").send(facePage({ kit, device, pairing, uplinks: await uplinks(), said }));
  app.get("/", (_request, response) => show(response, null));
  app.post("/set", async (request: Request, response) => {
    mustBe(byHand, kit, "by hand on its own page");
    const form = (request.body ?? {}) as Record<string, string>;
    const [press = "", id = ""] = (form.press ?? "").split(" ");
    let said = "Kept.";
    try {
      if (press === "start") device.start(id);
      else if (press === "stop") device.stop(id);
      else device.configure(typedConfig(kit, device.held(), form));
      if (press === "start") said = `${id} is sending.`;
      if (press === "stop") said = `${id} is off.`;
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      said = `${error.problem.detail}. ${error.problem.mend}`;
    }
    await show(response, said);
  });
  app.post("/pair", async (request: Request, response) => {
    mustBe(pairing !== null, kit, "by a code");
    let said: string | null = null;
    await pairing?.begin(String((request.body as { server?: string }).server ?? "")).catch((error: Error) => {
      said = error.message;
    });
    await show(response, said);
  });
  everySecond(() => device.tick());
  if (byHand) return (await serve(app, port)).port;

  /** A device under remote control listens to whoever knows its serial number. */
  app.use("/v1", (request, _response, next) => {
    if (kit.setBy === "remote" && request.get("x-serial") !== kit.serial)
      throw new Refusal(
        403,
        "serial-unknown",
        "this is not the encoder's serial number",
        "Read it from the plate and correct it under Kit.",
      );
    next();
  });
  app.get("/v1/encoder", (_request, response) => void response.json(kit));
  app.get("/v1/config", (_request, response) => void response.json(device.held()));
  app.put("/v1/config", (request, response) => {
    mustBe(kit.setBy !== "settings file" && kit.setBy !== "code", kit, "over the network");
    response.json(device.configure(readAs(encoderConfig, request.body, "configuration")));
  });
  app.post("/v1/settings-file", (request, response) => {
    mustBe(kit.setBy === "settings file", kit, "by a settings file");
    const { serial, engine, feeds } = readAs(settingsFile, request.body, "settings file");
    if (serial !== kit.serial)
      throw new Refusal(
        422,
        "other-serial",
        `this file is for the encoder ${serial || "without a number"}, not for ${kit.serial}`,
        "Choose the file of this encoder.",
      );
    response.json(device.configure({ engine, feeds } satisfies EncoderHeld));
  });
  app.get("/v1/status", (_request, response) => void response.json(device.status(new Date())));
  app.post("/v1/feeds/:id/start", (request, response) => {
    device.start(request.params.id);
    response.json(device.status(new Date()));
  });
  app.post("/v1/feeds/:id/stop", (request, response) => {
    device.stop(request.params.id);
    response.json(device.status(new Date()));
  });
  return (await serve(app, port)).port;
}

function mustBe(can: boolean, kit: Encoder, how: string): void {
  if (!can)
    throw new Refusal(
      409,
      "not-this-way",
      `the ${kit.name.toLowerCase()} is not set ${how}`,
      `It is set ${kit.reach.driver === "none" ? "by hand" : `by ${kit.setBy}`}.`,
    );
}

/** `--kit file=port` for each encoder; they share a process and nothing else. */
async function main() {
  const ports: Record<string, number> = {};
  for (const given of argumentsOf("kit")) {
    const [file = "", port = "0"] = given.split("=");
    const kit = readAs(encoder, JSON.parse(readFileSync(file, "utf8")), "encoder");
    ports[kit.id] = await open(kit, Number(port), argument("data", ""), argument("line"));
  }
  sayReady(ports);
  endWithParent();
}

void main();
