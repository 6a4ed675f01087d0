/** Before all specs: the market goes at 1x, so that the demo's watches leave the machine to the pages. Who wants more asks for it. */
import { VENUE } from "./steps.ts";

/** The venue is a process of its own, which may come up after the server. */
const PATIENCE_MS = 60_000;

export default async function calmVenue(): Promise<void> {
  const headers = { "content-type": "application/json" };
  const untilMs = Date.now() + PATIENCE_MS;
  for (;;) {
    const answer = await fetch(`${VENUE}/clock`, { method: "POST", headers, body: JSON.stringify({ speed: 1 }) }).catch(() => null);
    if (answer?.ok) return;
    if (Date.now() > untilMs) throw new Error("The practice venue did not take the speed of its clock.");
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
