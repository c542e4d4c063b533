import { readFileSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import { Refusal } from "@ukaza/contract/problem";
import express, { type ErrorRequestHandler, type Express } from "express";

/** An Express app that speaks JSON and gives its own description at /openapi.json. */
export function standinApp(folder: string): Express {
  const app = express();
  app.disable("x-powered-by");
  app.use(express.json({ limit: "256kb" }));
  // The pages of the stand-ins, and RFC 8628, speak in forms.
  app.use(express.urlencoded({ extended: false, limit: "64kb" }));
  const description = JSON.parse(readFileSync(join(folder, "openapi.json"), "utf8")) as unknown;
  app.get("/openapi.json", (_request, response) => void response.json(description));
  app.get("/health", (_request, response) => void response.json({ ok: true, pid: process.pid }));
  return app;
}

const asProblem: ErrorRequestHandler = (error, _request, response, _next) => {
  const refusal =
    error instanceof Refusal ? error : new Refusal(error.status ?? 500, "failed", String(error.message), "See the stand-in's own words.");
  response.status(refusal.problem.status).type("application/problem+json").send(refusal.problem);
};

/** Adds the error answers and listens on loopback. */
export async function serve(app: Express, port: number): Promise<{ port: number; close: () => Promise<void> }> {
  app.use((request, _response, next) =>
    next(new Refusal(404, "not-found", `${request.method} ${request.path} is not there`, "See /openapi.json.")),
  );
  app.use(asProblem);
  const server = app.listen(port, "127.0.0.1");
  await new Promise<void>((resolve, reject) => server.once("listening", resolve).once("error", reject));
  const bound = (server.address() as AddressInfo).port;
  return {
    port: bound,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

/** Every value of `--name`, in order. */
export function argumentsOf(name: string): string[] {
  return process.argv.flatMap((word, at) => (word === `--${name}` ? (process.argv[at + 1] ?? []) : []));
}

/** Tells a parent process that everything listens: names and their ports. */
export function sayReady(ports: Record<string, number>): void {
  process.send?.({ ports });
}

/** Reads `--name value` pairs of the command line; throws on a missing one that has no default. */
export function argument(name: string, fallback?: string): string {
  const at = process.argv.indexOf(`--${name}`);
  const value = at >= 0 ? process.argv[at + 1] : undefined;
  if (value !== undefined) return value;
  if (fallback !== undefined) return fallback;
  throw new Error(`--${name} is missing`);
}

/** A child process must not outlive the one that started it. */
export function endWithParent(): void {
  if (process.send) process.once("disconnect", () => process.exit(0));
}
