/** The built app on a data folder of its own, by itself or with a browser that looks at it. */
import { spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import { workspaceRoot } from "@plan-tester/demo/root";
import { chromium, type Page } from "@playwright/test";

const PORT = 4396;

export interface Served {
  readonly pid: number;
  readonly base: string;
  readonly data: string;
  call<T>(method: string, path: string, body?: unknown): Promise<T>;
  bytes(path: string): Promise<ArrayBuffer>;
  stop(): Promise<void>;
}

/**
 * @param more settings by environment.
 * @param fresh name of a data folder that is made anew; else what all benches share is gone on with
 */
export async function serveApp(more: NodeJS.ProcessEnv = {}, fresh = ""): Promise<Served> {
  const root = workspaceRoot();
  const data = join(root, ".cache", fresh || "bench-data");
  if (fresh) rmSync(data, { recursive: true, force: true });
  mkdirSync(data, { recursive: true });
  if (!existsSync(join(root, "dist", "server.js"))) throw new Error("The app is not built: run npm run build first.");
  const server = spawn(process.execPath, ["dist/server.js"], {
    cwd: root,
    env: { ...process.env, NODE_ENV: "production", PLAN_TESTER_PORT: String(PORT), PLAN_TESTER_DATA: data, ...more },
    stdio: ["ignore", "pipe", "inherit"],
  });
  process.on("exit", () => server.kill("SIGKILL"));
  await new Promise<void>((resolve) => server.stdout.on("data", (text: Buffer) => text.toString().includes("ready") && resolve()));
  const base = `http://localhost:${PORT}`;
  return {
    pid: server.pid!,
    base,
    data,
    async call<T>(method: string, path: string, body?: unknown): Promise<T> {
      const response = await fetch(`${base}/api${path}`, {
        method,
        ...(body === undefined ? {} : { headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) }),
      });
      if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`);
      return (response.status === 204 ? undefined : await response.json()) as T;
    },
    bytes: async (path) => (await fetch(`${base}/api${path}`)).arrayBuffer(),
    async stop() {
      server.kill("SIGTERM");
      await once(server, "exit");
    },
  };
}

export interface App extends Served {
  readonly page: Page;
  end(): Promise<never>;
}

export async function openApp(): Promise<App> {
  process.on("uncaughtException", (error) => {
    console.error(error);
    process.exit(1);
  });
  const served = await serveApp();
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  return {
    ...served,
    page,
    async end() {
      await browser.close();
      await served.stop();
      process.exit(0);
    },
  };
}
