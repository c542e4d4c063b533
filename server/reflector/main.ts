import { parseArgs } from "node:util";
import { startReflector } from "./reflector";

const usage = `npm run reflector -- [--host H] [--port N]
The far end of the built-in line test. Run it on a machine out on the internet that the venue reaches, and write its
address (host:port) into the uplink. It counts bytes over TCP and answers probes over UDP on the same port number.
  --host H   address to listen on (127.0.0.1; 0.0.0.0 for everyone)
  --port N   port for TCP and UDP (4320; 0 picks a free one)`;

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      host: { type: "string", default: "127.0.0.1" },
      port: { type: "string", default: "4320" },
      help: { type: "boolean", default: false },
    },
  });
  if (values.help) return console.log(usage);
  const wanted = Number(values.port);
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65_535) throw new Error("--port takes a number from 0 to 65535");
  const { port, close } = await startReflector({ host: values.host, port: wanted });
  if (process.send) process.send({ ports: { reflector: port } });
  else console.log(`The reflector listens on ${values.host}:${port} (TCP and UDP).`);
  const end = async () => {
    await close();
    process.exit(0);
  };
  process.once("SIGTERM", end);
  process.once("SIGINT", end);
  // A child process must not outlive the one that started it.
  if (process.send) process.once("disconnect", end);
}

main().catch((error: Error) => {
  console.error(`The reflector did not start: ${error.message}`);
  process.exit(1);
});
