import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, chromium } from "playwright-core";

export const phone = { width: 390, height: 844 };
export const wide = { width: 1280, height: 800 };

/** Chromium as it must be started here: quiet, off the network, with a fresh profile of its own. */
export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  });
}

export const freshFolder = (): string => mkdtempSync(join(tmpdir(), "ukaza-"));
