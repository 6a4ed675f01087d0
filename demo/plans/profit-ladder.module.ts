//! module "profit-ladder"
// A ladder of profit locks: every full step of profit earns a stop that keeps a share of it.
//
// `ladder(atr(bars, 20), 4, 0.5)` gives four rungs; at the second the stop keeps half of two steps. As options of the
// entry the rungs can't overwrite one another: the tightest that has been reached counts.
export function ladder(step: Column, rungs: number, share: number) {
  return Array.from({ length: rungs }, (_rung, k) => ({
    after: multiple(step, k + 1),
    keep: multiple(step, (k + 1) * share),
  }));
}
