// Runs before anything is installed: plain JavaScript, Node's own modules only.
import { execFileSync, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = join(dirname(fileURLToPath(import.meta.url)), "..");

/** Runs a command with its output on the screen; ends this process when it fails. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: "inherit", ...options });
  if (done.error) console.error(`${command}: ${done.error.message}`);
  if (done.status !== 0) process.exit(done.status ?? 1);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 19) || major > 22) {
    console.error(`Node ${process.versions.node} is here; 20.19 to 22 is needed. Install one of these and try again.`);
    process.exit(1);
  }
}

const hashOf = (files) => {
  const hash = createHash("sha256");
  for (const file of files) hash.update(file).update(readFileSync(join(root, file)));
  return hash.digest("hex");
};

/** Does `work` only if what it depends on has changed since it was last done. */
function once(stamp, hash, work) {
  const file = join(root, stamp);
  if (existsSync(file) && readFileSync(file, "utf8") === hash) return;
  work();
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, hash);
}

/** Installs what the lockfile names, when the lockfile changed. */
export function install() {
  once("node_modules/.installed-lock", hashOf(["package-lock.json"]), () => {
    console.log("Installing packages…");
    // Not `npm ci`: it refuses a lockfile in which the registry lacks another system's optional parts.
    run("npm", ["install", "--no-save", "--no-audit", "--no-fund"]);
  });
}

function filesIn(folder) {
  return readdirSync(join(root, folder))
    .sort()
    .flatMap((name) => {
      if (["node_modules", "dist", ".expo", "test"].includes(name) || name.includes(".test.")) return [];
      const path = `${folder}/${name}`;
      return statSync(join(root, path)).isDirectory() ? filesIn(path) : [path];
    });
}

/** Builds the web app, when its sources changed. */
export function buildApp() {
  const sources = [...filesIn("app"), ...filesIn("core"), ...filesIn("contract"), "package-lock.json"];
  once("app/dist/.built-from", hashOf(sources), () => {
    console.log("Building the web app; the first time takes two or three minutes…");
    run(process.execPath, [join(root, "node_modules/expo/bin/cli"), "export", "--platform", "web"], {
      cwd: join(root, "app"),
      env: { ...process.env, CI: "1", EXPO_NO_TELEMETRY: "1", EXPO_OFFLINE: "1" },
    });
  });
}

/** Chromium for the browser tests: Debian's package, or the one that CHROMIUM names. */
export function chromium() {
  const path = process.env.CHROMIUM ?? "/usr/bin/chromium";
  if (existsSync(path)) return;
  const isRoot = process.getuid?.() === 0;
  try {
    execFileSync("apt-get", ["--version"], { stdio: "ignore" });
  } catch {
    console.error(`There is no Chromium at ${path}. Install one and name it in CHROMIUM.`);
    process.exit(1);
  }
  const asRoot = (args) => (isRoot ? run("apt-get", args) : run("sudo", ["apt-get", ...args]));
  console.log("Installing Debian's Chromium…");
  asRoot(["update", "-qq"]);
  asRoot(["install", "-y", "-qq", "chromium"]);
}
