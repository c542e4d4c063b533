import { parseArgs } from "node:util";
import { startServer } from "./start";

const usage = `ukaza server
  --port N          port to listen on (4310; 0 picks a free one)
  --host H          address to listen on (127.0.0.1)
  --data FOLDER     where the database and its key live (.data)
  --web FOLDER      the built web app
  --standin N=URL   a stand-in's name and address; may be given several times
  --log LEVEL       silent, error, warn, info or debug (warn)`;

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      port: { type: "string", default: "4310" },
      host: { type: "string", default: "127.0.0.1" },
      data: { type: "string", default: ".data" },
      web: { type: "string" },
      standin: { type: "string", multiple: true, default: [] },
      log: { type: "string", default: "warn" },
      help: { type: "boolean", default: false },
    },
  });
  if (values.help) return console.log(usage);
  const standins = Object.fromEntries(
    values.standin.map((pair) => {
      const at = pair.indexOf("=");
      return [pair.slice(0, at), pair.slice(at + 1)];
    }),
  );
  const server = await startServer({
    dataFolder: values.data,
    webFolder: values.web ?? null,
    port: Number(values.port),
    host: values.host,
    standins,
    logLevel: values.log,
  });
  process.send?.({ ports: { server: server.port } });
  const end = async () => {
    await server.close();
    process.exit(0);
  };
  process.once("SIGTERM", end);
  process.once("SIGINT", end);
  // A child process must not outlive the one that started it.
  if (process.send) process.once("disconnect", end);
}

main().catch((error: Error) => {
  console.error(`The server did not start: ${error.message}`);
  process.exit(1);
});
