import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { encoder } from "@ukaza/contract/encoder";
import { problem } from "@ukaza/contract/problem";
import * as wire from "@ukaza/contract/standins";
import { z } from "zod";

type Body = z.ZodType | null;
interface Operation {
  summary: string;
  takes?: Body;
  gives: Body;
  headers?: string[];
}

/** An OpenAPI 3.1 document for a stand-in, its schemas made from the contract. */
function describe(title: string, description: string, operations: Record<string, Operation>): string {
  const paths: Record<string, Record<string, unknown>> = {};
  const json = (schema: z.ZodType) => ({ "application/json": { schema: z.toJSONSchema(schema, { io: "input" }) } });
  for (const [where, op] of Object.entries(operations)) {
    const [method, path] = where.split(" ") as [string, string];
    const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({ name, in: "path", required: true, schema: { type: "string" } }));
    const inHeader = (op.headers ?? []).map((name) => ({ name, in: "header", required: true, schema: { type: "string" } }));
    paths[path] = {
      ...paths[path],
      [method.toLowerCase()]: {
        summary: op.summary,
        ...(inPath.length + inHeader.length > 0 ? { parameters: [...inPath, ...inHeader] } : {}),
        ...(op.takes ? { requestBody: { required: true, content: json(op.takes) } } : {}),
        responses: {
          [op.gives ? "200" : "204"]: { description: "done", ...(op.gives ? { content: json(op.gives) } : {}) },
          default: { description: "refused (RFC 9457)", content: { "application/problem+json": { schema: z.toJSONSchema(problem) } } },
        },
      },
    };
  }
  return `${JSON.stringify({ openapi: "3.1.0", info: { title, version: "1.0.0", description }, paths }, null, 2)}\n`;
}

/** The stand-ins' descriptions by path. */
export function openapiFiles(): Record<string, string> {
  return {
    "standins/platform/openapi.json": describe(
      "Platform stand-in",
      "A simulated platform. It judges what it receives by the rule sheet it was started with. Media comes as one request a second and feed.",
      {
        "POST /v1/broadcasts": {
          summary: "Create a broadcast; the answer holds its addresses and keys, once.",
          takes: wire.broadcastOrder,
          gives: wire.broadcastCreated,
        },
        "GET /v1/broadcasts/{id}": {
          summary: "State, what each ingest receives, the verdict on it, and whether the preview is there.",
          gives: wire.broadcast,
        },
        "POST /v1/broadcasts/{id}/public": { summary: "Let viewers see it. Cannot be taken back.", gives: wire.broadcast },
        "POST /v1/broadcasts/{id}/end": { summary: "End it. Cannot be taken back.", gives: wire.broadcast },
        "PUT /v1/broadcasts/{id}/source": {
          summary: "Choose the ingest that viewers see.",
          takes: wire.sourceOrder,
          gives: wire.broadcast,
        },
        "POST /ingest/{path}": {
          summary: "One second of media for an address; the key says who sends.",
          takes: wire.mediaSecond,
          gives: null,
          headers: ["x-stream-key"],
        },
      },
    ),
    "standins/encoder/openapi.json": describe(
      "Encoder stand-in",
      "A simulated encoder with one settings for all its feeds. What it sends leaves by the line stand-in.",
      {
        "GET /v1/encoder": { summary: "What it can do.", gives: encoder },
        "GET /v1/config": { summary: "What it really holds, keys included.", gives: wire.encoderConfig },
        "PUT /v1/config": {
          summary: "Take a configuration; the bitrate is rounded to the encoder's own step.",
          takes: wire.encoderConfig,
          gives: wire.encoderConfig,
        },
        "GET /v1/status": { summary: "The last second of every feed.", gives: wire.encoderStatus },
        "POST /v1/feeds/{id}/start": { summary: "Start sending.", gives: wire.encoderStatus },
        "POST /v1/feeds/{id}/stop": { summary: "Stop sending.", gives: wire.encoderStatus },
      },
    ),
    "standins/line/openapi.json": describe(
      "Line stand-in",
      "Simulated uplinks. Capacity, loss and round trip come from a seeded model, one step a second, and can be troubled by hand.",
      {
        "GET /v1/uplinks": { summary: "Every uplink as it is in this second.", gives: z.array(wire.lineUplink) },
        "POST /v1/uplinks/{id}/trouble": {
          summary: "Sink the uplink to a rate, cut it, or let it recover.",
          takes: wire.lineTrouble,
          gives: wire.lineUplink,
        },
        "POST /v1/uplinks/{id}/carry": {
          summary: "Carry what fits of one feed's second and hand it to the ingest.",
          takes: wire.carryOrder,
          gives: wire.carried,
        },
      },
    ),
  };
}

if (require.main === module) {
  for (const [path, text] of Object.entries(openapiFiles())) writeFileSync(join(__dirname, "..", path), text);
}
