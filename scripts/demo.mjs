// npm run demo [-- --port N] [--data FOLDER] [--fresh]
import { spawn } from "node:child_process";
import { buildApp, checkNode, install, root } from "./prepare.mjs";

checkNode();
install();
buildApp();
const demo = spawn(process.execPath, ["--import", "tsx", "scripts/runDemo.ts", ...process.argv.slice(2)], { cwd: root, stdio: "inherit" });
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => demo.kill(signal));
demo.once("exit", (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
