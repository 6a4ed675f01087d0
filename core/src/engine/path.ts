/** The path that price is assumed to take inside a bar (R4.1). */

/** Which extreme comes first: the nearer to the open; when equal, the low of a rising bar and the high of a falling one come last. */
export function firstExtreme(open: number, high: number, low: number, close: number): "high" | "low" {
  const up = Math.abs(high - open);
  const down = Math.abs(open - low);
  if (up < down) return "high";
  if (up > down) return "low";
  return close >= open ? "low" : "high";
}
