/** Where the server lives and keeps its data. Environment variables move it: PLAN_TESTER_PORT, PLAN_TESTER_DATA, PLAN_TESTER_QUEUE, PLAN_TESTER_DEMO. */
import { mkdirSync } from "node:fs";
import { join, resolve } from "node:path";
import { workspaceRoot } from "@plan-tester/demo/root";

export interface Config {
  readonly port: number;
  readonly venuePort: number;
  readonly dataFolder: string;
  /** Built web client, served by the server itself. */
  readonly webFolder: string;
  /** Address of the queue over which other machines carry the batches of sweeps; empty for this machine alone. */
  readonly queue: string;
  /** Whether a new workspace gets the demo world. */
  readonly hasDemo: boolean;
}

export function readConfig(env: NodeJS.ProcessEnv): Config {
  const root = workspaceRoot();
  const port = Number(env.PLAN_TESTER_PORT ?? 4177);
  if (!Number.isInteger(port) || port < 1 || port > 65_534)
    throw new Error(`PLAN_TESTER_PORT is ${env.PLAN_TESTER_PORT}; it must be a port number from 1 to 65534.`);
  const dataFolder = resolve(env.PLAN_TESTER_DATA ?? join(root, "data"));
  mkdirSync(dataFolder, { recursive: true });
  const queue = env.PLAN_TESTER_QUEUE ?? "";
  if (queue && !/^rediss?:\/\//.test(queue))
    throw new Error(`PLAN_TESTER_QUEUE is ${queue}; it must be an address such as redis://localhost:6379.`);
  const demo = env.PLAN_TESTER_DEMO ?? "on";
  if (demo !== "on" && demo !== "off") throw new Error(`PLAN_TESTER_DEMO is ${demo}; it must be on or off.`);
  return {
    hasDemo: demo === "on",
    port,
    venuePort: Number(env.PLAN_TESTER_VENUE_PORT ?? port + 1),
    dataFolder,
    webFolder: join(root, "dist", "web"),
    queue,
  };
}
