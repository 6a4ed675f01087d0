/** Entry of the server: takes its port and its data folder, opens the database, makes the demo world where it is wanted and missing. */
import { createServer, type RequestListener } from "node:http";
import { makeApplication } from "./app.ts";
import { readConfig } from "./config.ts";
import { lockDataFolder } from "./data-lock.ts";
import { makeLogger } from "./logging.ts";
import { startFirstWatches } from "./seed/seed.ts";
import { messageOf } from "./text.ts";
import { startVenue } from "./venue-process.ts";

/** For how long an ending server may finish what can be finished. */
const LAST_MS = 5000;

const starting: RequestListener = (_request, response) => {
  response.writeHead(503, { "Content-Type": "application/json", "Retry-After": "1" });
  response.end(JSON.stringify({ error: { code: "unavailable", message: "The server is still starting.", details: {} } }));
};

function giveUp(message: string): never {
  console.error(message);
  process.exit(1);
}

const config = (() => {
  try {
    return readConfig(process.env);
  } catch (error) {
    giveUp(messageOf(error));
  }
})();
const address = `http://localhost:${config.port}`;

// Before anything is opened or resumed: the port, then the folder.
let handle: RequestListener = starting;
const server = createServer((request, response) => handle(request, response));
await new Promise<void>((resolve) => {
  server.once("error", (error: NodeJS.ErrnoException) =>
    giveUp(error.code === "EADDRINUSE" ? `Port ${config.port} is taken. Close the other program, or set PLAN_TESTER_PORT.` : error.message),
  );
  server.listen(config.port, "127.0.0.1", resolve);
});
const lock = (() => {
  try {
    return lockDataFolder(config.dataFolder, address);
  } catch (error) {
    giveUp(messageOf(error));
  }
})();

const logger = makeLogger(config.dataFolder, process.env.LOG_LEVEL);
const application = await makeApplication(config, logger).catch((error: unknown) => {
  logger.fatal({ err: error }, "the server did not start");
  giveUp(`The server did not start: ${messageOf(error)}`);
});

const began = performance.now();
let isSaid = false;
const isMade = await application.demo.atStart(config.hasDemo, (text) => {
  if (!isSaid) console.log("Making the demo world (once; PLAN_TESTER_DEMO=off starts without):");
  isSaid = true;
  console.log(`  ${text}`);
});

const venue = startVenue(config, logger);
const watches = application.startWatching();

let closing = false;
async function close(code: number, why: string): Promise<void> {
  if (closing) return;
  closing = true;
  logger.info({ why }, "server ends");
  setTimeout(() => {
    logger.error("the server did not end in time; what was under way is taken up by the next start");
    process.exit(code || 1);
  }, LAST_MS).unref();
  venue.stop();
  server.closeAllConnections();
  server.close();
  await application.close();
  lock.release();
  process.exit(code);
}

/** Something that nobody has foreseen: what can be finished is finished, and the server ends with an error. */
function fail(error: unknown, what: string): void {
  logger.fatal({ err: error }, what);
  console.error(`Plan Tester ends: ${messageOf(error)}. The log in ${config.dataFolder} has the details.`);
  close(1, what).catch((other: unknown) => {
    logger.fatal({ err: other }, "the server could not be closed in order");
    process.exit(1);
  });
}
process.on("SIGINT", () => void close(0, "SIGINT").catch((error: unknown) => fail(error, "closing failed")));
process.on("SIGTERM", () => void close(0, "SIGTERM").catch((error: unknown) => fail(error, "closing failed")));
process.on("uncaughtException", (error) => fail(error, "an error that nobody caught"));
process.on("unhandledRejection", (reason) => fail(reason, "a failure that nobody waited for"));

// Before anybody can look: the clock runs as fast as it goes meanwhile.
if (isMade && (await watches.list()).length === 0)
  await startFirstWatches(watches, (text) => console.log(`  ${text}`)).catch((error: unknown) =>
    application.background.report("the first watches were not started", {}, error),
  );
if (isMade) console.log(`  done in ${((performance.now() - began) / 1000).toFixed(1)} s`);
handle = application.app;
logger.info({ port: config.port, folder: config.dataFolder, process: process.pid }, "server started");
console.log(`Plan Tester is ready: ${address}`);
