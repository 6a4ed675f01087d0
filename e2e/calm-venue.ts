/** Before all specs: the market goes at 1x, so that the demo's watches leave the machine to the pages. Who wants more asks for it. */
import { VENUE } from "./steps.ts";

export default async function calmVenue(): Promise<void> {
  const headers = { "content-type": "application/json" };
  const { ok } = await fetch(`${VENUE}/clock`, { method: "POST", headers, body: JSON.stringify({ speed: 1 }) });
  if (!ok) throw new Error("The practice venue did not take the speed of its clock.");
}
