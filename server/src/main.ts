/** Entry of the server: opens the database, makes the demo world where it is wanted and missing, listens on loopback. */
import pino from "pino";
import { makeApplication } from "./app.ts";
import { readConfig } from "./config.ts";
import { startFirstWatch } from "./seed/seed.ts";
import { startVenue } from "./venue-process.ts";

const logger = pino({ level: process.env.LOG_LEVEL ?? "warn" });
const config = readConfig(process.env);
const application = await makeApplication(config, logger);

const began = performance.now();
let isSaid = false;
const isMade = await application.demo.atStart(config.hasDemo, (text) => {
  if (!isSaid) console.log("Making the demo world (once; PLAN_TESTER_DEMO=off starts without):");
  isSaid = true;
  console.log(`  ${text}`);
});
if (isMade) console.log(`  done in ${((performance.now() - began) / 1000).toFixed(1)} s`);

const venue = startVenue(config, logger);
const watches = application.startWatching();
if (isMade && (await watches.list()).length === 0)
  void startFirstWatch(watches).catch((error: unknown) => logger.warn({ err: error }, "the first watch was not started"));
const server = application.app.listen(config.port, "127.0.0.1", () => console.log(`Plan Tester is ready: http://localhost:${config.port}`));
server.on("error", (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === "EADDRINUSE" ? `Port ${config.port} is taken. Close the other program, or set PLAN_TESTER_PORT.` : error.message,
  );
  process.exit(1);
});

let closing = false;
async function close(): Promise<void> {
  if (closing) return;
  closing = true;
  venue.stop();
  server.closeAllConnections();
  server.close();
  await application.close();
  process.exit(0);
}
process.on("SIGINT", () => void close());
process.on("SIGTERM", () => void close());
