import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { deviceAsk, deviceAuthorization, tokenAsk, tokenGranted } from "@ukaza/contract/deviceCode";
import { encoder } from "@ukaza/contract/encoder";
import { problem } from "@ukaza/contract/problem";
import { ruleSheet } from "@ukaza/contract/ruleSheet";
import * as wire from "@ukaza/contract/standins";
import { z } from "zod";

type Body = z.ZodType | null;
interface Operation {
  summary: string;
  takes?: Body;
  /** Taken as a form instead of JSON. */
  form?: z.ZodType;
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
        ...(op.form
          ? {
              requestBody: {
                required: true,
                content: { "application/x-www-form-urlencoded": { schema: z.toJSONSchema(op.form, { io: "input" }) } },
              },
            }
          : {}),
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
      "A simulated platform. It behaves as the rule sheet says that it was started with. Everything under /v1/broadcasts wants a bearer token (RFC 6750), which /oauth gives. Media comes as one request a second and feed.",
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
        "POST /v1/broadcasts/{id}/private": { summary: "Take public back, where the rule sheet allows it.", gives: wire.broadcast },
        "POST /v1/broadcasts/{id}/end": { summary: "End it. Cannot be taken back.", gives: wire.broadcast },
        "PUT /v1/broadcasts/{id}/source": {
          summary: "Choose the ingest that viewers see.",
          takes: wire.sourceOrder,
          gives: wire.broadcast,
        },
        "GET /v1/rules": { summary: "The rule sheet it goes by.", gives: ruleSheet },
        "POST /oauth/device_authorization": {
          summary: "RFC 8628 §3.1: ask for a code. Sent as a form. A person approves it at /approve.",
          form: deviceAsk,
          gives: deviceAuthorization,
        },
        "POST /oauth/token": {
          summary: "RFC 8628 §3.4: ask for the token; refused with 400 and an error until the code was approved.",
          form: tokenAsk,
          gives: tokenGranted,
        },
        "POST /ingest/{path}": {
          summary:
            "One second of media for an address; the key, or the stream ID, says who sends. Also heard: authorization, x-passphrase, x-stream-id, x-sender.",
          takes: wire.mediaSecond,
          gives: null,
          headers: ["x-stream-key"],
        },
      },
    ),
    "standins/encoder/openapi.json": describe(
      "Encoder stand-in",
      "A simulated encoder with one settings for all its feeds, set in the one way that its kit document says; a person may do so at /. One under remote control wants its serial number in x-serial. What it sends leaves by the line stand-in.",
      {
        "GET /v1/encoder": { summary: "What it can do.", gives: encoder },
        "GET /v1/config": { summary: "What it really holds, keys included.", gives: wire.encoderConfig },
        "POST /v1/settings-file": {
          summary: "Take a settings file, where the encoder is set by one; a file with another serial number is refused.",
          takes: wire.settingsFile,
          gives: wire.encoderConfig,
        },
        "PUT /v1/config": {
          summary: "Take a configuration, where the encoder is set over the network; the bitrate is rounded to its own step.",
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
