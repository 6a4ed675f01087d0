// What the scripts share: where things are, what has changed, how to run a command.
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = join(dirname(fileURLToPath(import.meta.url)), "..");
export const sourceFolders = ["core", "contract", "runner", "venue", "server", "cli", "demo", "web"];
/** Packages that bundles leave to node_modules. */
export const external = [
  "better-sqlite3",
  "typeorm",
  "reflect-metadata",
  "express",
  "pino",
  "piscina",
  "sirv",
  "pino-roll",
  "ws",
  "ses",
  "sucrase",
  "acorn",
  "acorn-walk",
  "ajv",
  "commander",
  "papaparse",
  "@date-fns/tz",
  "bullmq",
  "ioredis",
];
const stamps = join(root, ".cache");

function files(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === "node_modules" ? [] : files(path);
    return /\.test\.tsx?$/.test(entry.name) ? [] : [path];
  });
}

/** A hash of names, sizes and times of everything that the build reads. */
export function sourceStamp() {
  const hash = createHash("sha256");
  for (const folder of [...sourceFolders, "scripts"])
    for (const file of files(join(root, folder))) {
      const { mtimeMs, size } = statSync(file);
      hash.update(`${file}:${size}:${mtimeMs};`);
    }
  hash.update(readFileSync(join(root, "package-lock.json")));
  return hash.digest("hex");
}

export function readStamp(name) {
  const file = join(stamps, name);
  return existsSync(file) ? readFileSync(file, "utf8") : "";
}

export function writeStamp(name, value) {
  mkdirSync(stamps, { recursive: true });
  writeFileSync(join(stamps, name), value);
}

/** Runs a command with its output shown; ends this process when it fails. */
export function must(command, args, options = {}) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: "inherit", ...options });
  if (status !== 0) {
    console.error(`\n${command} ${args.join(" ")} failed.`);
    process.exit(status ?? 1);
  }
}

/**
 * Installs packages when the lock file has changed since the last time. The database driver is compiled beside whatever is
 * done meanwhile. @returns settles when that is done too
 */
export function ensureInstalled() {
  const major = Number(process.versions.node.split(".")[0]);
  if (major < 20) {
    console.error(`Plan Tester needs Node 20 or newer; this is ${process.version}.`);
    process.exit(1);
  }
  const lock = createHash("sha256")
    .update(readFileSync(join(root, "package-lock.json")))
    .digest("hex");
  if (readStamp("installed") === lock && existsSync(join(root, "node_modules", "typeorm"))) return Promise.resolve(undefined);
  console.log("Installing packages; the database driver is compiled, which takes two to three minutes the first time.");
  must("npm", ["ci", "--no-audit", "--no-fund", "--ignore-scripts"]);
  const compiling = companion("npm", ["rebuild", "better-sqlite3"]);
  return new Promise((resolve) => {
    compiling.on("exit", (code) => {
      if (code !== 0) {
        console.error(
          "\nThe database driver could not be compiled; it needs a C++ compiler, make and Python (apt install build-essential python3).",
        );
        process.exit(code ?? 1);
      }
      writeStamp("installed", lock);
      resolve(undefined);
    });
  });
}

export function ensureBuilt() {
  const stamp = sourceStamp();
  if (readStamp("built") === stamp && existsSync(join(root, "dist", "server.js")) && existsSync(join(root, "dist", "web", "index.html")))
    return;
  must(process.execPath, [join(root, "scripts", "build.mjs")]);
  writeStamp("built", stamp);
}

/** Installs a package of Debian's. */
function debian(name, why) {
  console.log(`Installing ${name} ${why}.`);
  must("apt-get", ["update", "-qq"]);
  must("apt-get", ["install", "-y", "-qq", "--no-install-recommends", name], {
    env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
  });
}

/** Debian's Chromium, installed when it is missing. */
export function ensureChromium() {
  for (const path of ["/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"]) if (existsSync(path)) return path;
  debian("chromium", "for the browser tests");
  return "/usr/bin/chromium";
}

/** Debian's Redis, installed when it is missing. */
export function ensureRedis() {
  if (!existsSync("/usr/bin/redis-server")) debian("redis-server", "for the test of workers over a queue");
}

/** Starts a long-lived child that ends with this process. */
export function companion(command, args, options = {}) {
  const child = spawn(command, args, { cwd: root, stdio: "inherit", ...options });
  const end = () => child.kill("SIGTERM");
  process.on("exit", end);
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, end);
  return child;
}
