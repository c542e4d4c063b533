#!/usr/bin/env node
import { spawnSync } from "node:child_process";
import { createRequire } from "node:module";
import { fileURLToPath } from "node:url";

// The sources run as they are; paths stay relative to where the command was called.
const tsx = createRequire(import.meta.url).resolve("tsx");
const main = fileURLToPath(new URL("../main.ts", import.meta.url));
process.exitCode =
  spawnSync(process.execPath, ["--import", new URL(`file://${tsx}`).href, main, ...process.argv.slice(2)], { stdio: "inherit" }).status ??
  1;
