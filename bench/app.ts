/** The built app on a data folder of its own, and a browser that looks at it. */
import { spawn } from "node:child_process";
import { existsSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import { workspaceRoot } from "@plan-tester/demo/root";
import { chromium, type Page } from "@playwright/test";

const PORT = 4396;

export interface App {
  readonly base: string;
  readonly data: string;
  readonly page: Page;
  call<T>(method: string, path: string, body?: unknown): Promise<T>;
  end(): Promise<never>;
}

export async function openApp(): Promise<App> {
  const root = workspaceRoot();
  const data = join(root, ".cache", "bench-data");
  mkdirSync(data, { recursive: true });
  if (!existsSync(join(root, "dist", "server.js"))) throw new Error("The app is not built: run npm run build first.");
  const server = spawn(process.execPath, ["dist/server.js"], {
    cwd: root,
    env: { ...process.env, NODE_ENV: "production", PLAN_TESTER_PORT: String(PORT), PLAN_TESTER_DATA: data },
    stdio: ["ignore", "pipe", "inherit"],
  });
  process.on("exit", () => server.kill("SIGKILL"));
  process.on("uncaughtException", (error) => {
    console.error(error);
    process.exit(1);
  });
  await new Promise<void>((resolve) => server.stdout.on("data", (text: Buffer) => text.toString().includes("ready") && resolve()));
  const base = `http://localhost:${PORT}`;
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  return {
    ...{ base, data, page },
    async call<T>(method: string, path: string, body?: unknown): Promise<T> {
      const response = await fetch(`${base}/api${path}`, {
        method,
        ...(body === undefined ? {} : { headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) }),
      });
      if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`);
      return response.json() as Promise<T>;
    },
    async end() {
      await browser.close();
      server.kill("SIGTERM");
      process.exit(0);
    },
  };
}
