/** Repairs that may make good what was found, the likeliest first. Which of them is right nobody knows but the user. */
import type { Finding } from "./finding.ts";
import type { Repair } from "./repairs.ts";

/** @param firstMs when the data begin; what lies ahead of a split is adjusted from there */
export function proposedRepairs({ kind, fromMs, toMs, size }: Finding, tickSize: number, firstMs: number): Repair[] {
  const span = { fromMs, toMs };
  const drop: Repair = { kind: "drop", ...span };
  const interpolate: Repair = { kind: "interpolate", ...span, tickSize };
  switch (kind) {
    case "spike":
      return [interpolate, drop];
    case "stuck":
    case "crossed":
    case "volume":
    case "outside sessions":
    case "spacing":
      return [drop];
    case "off grid":
      return [{ kind: "round", ...span, tickSize }, drop];
    case "split":
      return [{ kind: "multiply", fromMs: firstMs, toMs: fromMs, factor: size }];
    case "zone shift":
      // Their bars lie up to that far outside of their sessions.
      return [{ kind: "shift", fromMs: fromMs + Math.min(0, size) * 60_000, toMs: toMs + Math.max(0, size) * 60_000, minutes: -size }];
    // What is not there can't be made good; of two bars of one time the import has kept one.
    case "gap":
    case "duplicate":
      return [];
  }
}
