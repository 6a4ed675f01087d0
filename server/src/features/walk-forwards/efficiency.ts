/** Walk-forward efficiency (Pardo 2008): what a session out-of-sample made over what a session in-sample had made. */
import type { WalkForwardWindow } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";

const NET = SWEEP_FIGURES.indexOf("netProfit");

type Tried = Pick<WalkForwardWindow, "inFigures" | "outFigures" | "inSample" | "outOfSample">;

const netOf = (figures: readonly (number | null)[]): number | null => figures[NET] ?? null;

function ratioOf(out: number, outSessions: number, inside: number, inSessions: number): number | null {
  return inside > 0 ? out / outSessions / (inside / inSessions) : null;
}

/** Of one window that could trade; null where nothing was made in-sample that could be kept. */
export function windowEfficiency({ inFigures, outFigures, inSample, outOfSample }: Tried): number | null {
  const [inside, out] = [netOf(inFigures), netOf(outFigures)];
  return inside === null || out === null ? null : ratioOf(out, outOfSample.sessions, inside, inSample.sessions);
}

/** Of all windows together. Those in which nothing was chosen, or in which nothing could trade, count on neither side. */
export function overallEfficiency(windows: readonly (Tried & Pick<WalkForwardWindow, "inputs" | "efficiency">)[]): number | null {
  const counted = windows.filter(
    ({ inputs, efficiency, inFigures }) => inputs !== null && !(efficiency === null && (netOf(inFigures) ?? 0) > 0),
  );
  if (counted.length === 0) return null;
  const sum = (of: (window: Tried) => number): number => counted.reduce((total, window) => total + of(window), 0);
  return ratioOf(
    sum(({ outFigures }) => netOf(outFigures) ?? 0),
    sum(({ outOfSample }) => outOfSample.sessions),
    sum(({ inFigures }) => netOf(inFigures) ?? 0),
    sum(({ inSample }) => inSample.sessions),
  );
}
