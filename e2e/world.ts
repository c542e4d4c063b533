import { rmSync } from "node:fs";
import { join } from "node:path";
import type { Browser, BrowserContext, Page } from "playwright-core";
import { loadDemo } from "../demo/load";
import { type Launched, launch } from "../scripts/launch";
import { freshFolder, openBrowser, phone } from "./browser";

/** Everything running for one story: real processes, a real database, a real browser. */
export interface World {
  running: Launched;
  browser: Browser;
  /** A page of its own context; what the page complains of is kept in `complaints`. */
  open: (path: string, size?: { width: number; height: number }, more?: { colorScheme?: "light" | "dark" }) => Promise<Page>;
  complaints: string[];
  api: <T>(method: string, path: string, body?: unknown) => Promise<T>;
  close: () => Promise<void>;
}

/** Starts the demo on free ports. `waits`: factor on the stand-in platform's waits. */
export async function startWorld(waits: number): Promise<World> {
  const dataFolder = freshFolder();
  const running = await launch({ port: 0, dataFolder, webFolder: join(__dirname, "../app/dist"), waits, logLevel: "silent" });
  await loadDemo(running.address, new Date());
  const browser = await openBrowser();
  const complaints: string[] = [];
  const contexts: BrowserContext[] = [];
  return {
    running,
    browser,
    complaints,
    open: async (path, size = phone, more = {}) => {
      const context = await browser.newContext({ viewport: size, reducedMotion: "reduce", colorScheme: "light", ...more });
      contexts.push(context);
      const page = await context.newPage();
      page.on("pageerror", (error) => complaints.push(error.message));
      await page.goto(running.address + path);
      return page;
    },
    api: async <T>(method: string, path: string, body?: unknown) => {
      const answer = await fetch(`${running.address}/api${path}`, {
        method,
        ...(body === undefined ? {} : { headers: { "content-type": "application/json" }, body: JSON.stringify(body) }),
      });
      return (await answer.json()) as T;
    },
    close: async () => {
      for (const context of contexts) await context.close();
      await browser.close();
      await running.stop();
      rmSync(dataFolder, { recursive: true, force: true });
    },
  };
}

/** Presses a dangerous step and holds it until it has taken hold. */
export async function holdButton(page: Page, name: string | RegExp): Promise<void> {
  const button = page.getByRole("button", { name });
  await button.scrollIntoViewIfNeeded();
  const box = await button.boundingBox();
  if (!box) throw new Error(`no button ${name} on the screen`);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  const holding = page.getByText("Keep holding…");
  await holding.waitFor();
  await holding.waitFor({ state: "detached" });
  await page.mouse.up();
}
