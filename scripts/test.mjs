// npm test: install, then every check. Ends with the first that fails.
import { join } from "node:path";
import { buildApp, checkNode, chromium, install, root, run } from "./prepare.mjs";

checkNode();
install();
chromium();
const bin = (name) => join(root, "node_modules/.bin", name);
const step = (title, command, args, options) => {
  console.log(`\n== ${title}`);
  run(command, args, options);
};
step("lint and format", bin("biome"), ["ci", "."]);
step("types", bin("tsc"), ["-p", "."]);
step("types of the app", bin("tsc"), ["-p", "app"]);
step("dependency direction", bin("depcruise"), [
  "app",
  "cli",
  "contract",
  "core",
  "demo",
  "server",
  "standins",
  "--config",
  ".dependency-cruiser.cjs",
]);
step("unused code", bin("knip"), []);
const jest = { env: { ...process.env, NODE_OPTIONS: "--experimental-vm-modules --no-warnings" } };
step("core, contract, server, stand-ins, command line, components", bin("jest"), ["--selectProjects", "node", "components"], jest);
buildApp();
step("stories in the browser", bin("jest"), ["--selectProjects", "browser", "--runInBand"], jest);
