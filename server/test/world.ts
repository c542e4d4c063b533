import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Problem } from "@ukaza/contract/problem";
import type { Settings } from "@ukaza/contract/settings";
import { settings as good } from "../../core/test/kit";
import { loadDemo } from "../../demo/load";
import { type Launched, launch } from "../../scripts/launch";

export interface Answer<T> {
  status: number;
  body: T;
  type: string;
}

/** The demo's processes on free ports, and a way to speak to the server. */
export interface World {
  running: Launched;
  folder: string;
  call: <T = Problem>(method: string, path: string, body?: unknown, type?: string) => Promise<Answer<T>>;
  close: () => Promise<void>;
}

export async function startWorld(waits = 0.05): Promise<World> {
  const folder = mkdtempSync(join(tmpdir(), "ukaza-server-"));
  const running = await launch({ port: 0, dataFolder: folder, webFolder: null, waits, logLevel: "silent" });
  await loadDemo(running.address, new Date());
  return {
    running,
    folder,
    call: async <T>(method: string, path: string, body?: unknown, type = "application/json") => {
      const text = body === undefined ? null : typeof body === "string" ? body : JSON.stringify(body);
      const answer = await fetch(`${running.address}/api${path}`, {
        method,
        headers: text === null ? {} : { "content-type": type },
        body: text,
      });
      return { status: answer.status, body: (await answer.json()) as T, type: answer.headers.get("content-type") ?? "" };
    },
    close: async () => {
      await running.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

export const demoFile = <T = Record<string, never>>(path: string): T =>
  JSON.parse(readFileSync(join(__dirname, "../../demo", path), "utf8")) as T;

export const settings: Settings = { ...good, width: 1280, height: 720, frameRate: "50", videoBps: 3_000_000 };

/** A plan for the opening concert, or another event of one destination, as the app sends it. */
export const choice = (more: object = {}, destinationId = "oriel") => ({
  name: "Plan 1",
  destinations: [{ destinationId, settings, feeds, ...more }],
});

export const feeds = [
  { role: "main", encoderId: "desk-encoder", uplinkId: "hall-fibre" },
  { role: "backup", encoderId: "desk-encoder", uplinkId: "hall-hotspot" },
];

/** Asks once every 100 ms until the answer is as wished; fails after 30 s with the last answer. */
export async function until<T>(ask: () => Promise<T>, wished: (answer: T) => boolean): Promise<T> {
  const end = Date.now() + 30_000;
  for (;;) {
    const answer = await ask();
    if (wished(answer)) return answer;
    if (Date.now() > end) throw new Error(`not as wished after 30 s: ${JSON.stringify(answer).slice(0, 1_000)}`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
