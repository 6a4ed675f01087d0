/** Starts the practice venue as a process of its own, and again when it ends by itself. */
import { type ChildProcess, spawn } from "node:child_process";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { bundleOf } from "@plan-tester/demo/root";
import type { Logger } from "pino";
import type { Config } from "./config.ts";

const RESTART_MS = 1000;

export function startVenue(config: Config, logger: Logger): { stop(): void } {
  const bundled = bundleOf("venue.js", import.meta.url);
  const [file, execArgv] = bundled
    ? [bundled, []]
    : [fileURLToPath(new URL("../../venue/src/main.ts", import.meta.url)), ["--import", import.meta.resolve("tsx")]];
  let child: ChildProcess | null = null;
  let stopping = false;
  const start = (): void => {
    child = spawn(process.execPath, [...execArgv, file], {
      stdio: ["ignore", "inherit", "inherit", "ipc"],
      env: { ...process.env, PORT: String(config.venuePort), STATE_FILE: join(config.dataFolder, "venue.state") },
    });
    child.on("exit", (code) => {
      if (stopping) return;
      logger.warn({ code }, "the practice venue ended; starting it again");
      setTimeout(start, RESTART_MS);
    });
  };
  start();
  return {
    stop() {
      stopping = true;
      child?.kill("SIGTERM");
    },
  };
}
