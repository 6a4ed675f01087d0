// npm run dev: the server restarts and the page reloads as the source changes.
import { companion, ensureInstalled } from "./shared.mjs";

await ensureInstalled();
const port = Number(process.env.PLAN_TESTER_PORT ?? 4177);
companion("npx", ["tsx", "watch", "--clear-screen=false", "server/src/main.ts"]);
const web = companion("npx", ["vite", "web"], { env: { ...process.env, PLAN_TESTER_PORT: String(port) } });
web.on("exit", (code) => process.exit(code ?? 0));
