// npm start: installs what is missing, builds what has changed, and serves.
import { companion, ensureBuilt, ensureInstalled } from "./shared.mjs";

const installed = ensureInstalled();
ensureBuilt();
await installed;
const server = companion(process.execPath, ["--enable-source-maps", "dist/server.js"], { env: { ...process.env, NODE_ENV: "production" } });
server.on("exit", (code) => process.exit(code ?? 0));
