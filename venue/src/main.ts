/** Entry of the practice venue's process: PORT and STATE_FILE say where. Ends with its parent. */
import { Venue } from "./venue.ts";

const venue = new Venue({ port: Number(process.env.PORT ?? 4178), stateFile: process.env.STATE_FILE ?? "venue.state" });

function end(): void {
  venue.close();
  process.exit(0);
}
function fail(error: unknown): void {
  console.error("The practice venue ends by an error:", error);
  venue.close();
  process.exit(1);
}
process.on("uncaughtException", fail);
process.on("unhandledRejection", fail);
process.on("SIGTERM", end);
process.on("SIGINT", end);
process.on("disconnect", end);
