/** Entry of the practice venue's process: PORT and STATE_FILE say where; TAKES_ORDERS=off makes it a feed of data alone. Ends with its parent. */
import { Venue } from "./venue.ts";

const venue = new Venue({
  ...{ port: Number(process.env.PORT ?? 4178), stateFile: process.env.STATE_FILE ?? "venue.state" },
  takesOrders: process.env.TAKES_ORDERS !== "off",
});

async function end(code: number): Promise<void> {
  // A thread that does not come to its end holds nobody up.
  setTimeout(() => process.exit(code), 3000).unref();
  await venue.close();
  process.exit(code);
}
function fail(error: unknown): void {
  console.error("The practice venue ends by an error:", error);
  void end(1);
}
process.on("uncaughtException", fail);
process.on("unhandledRejection", fail);
process.on("SIGTERM", () => void end(0));
process.on("SIGINT", () => void end(0));
process.on("disconnect", () => void end(0));
