/**
 * How many independent settings some settings that resemble one another amount to: the participation ratio of the
 * eigenvalues of their returns' correlation matrix, (sum of eigenvalues)^2 / sum of their squares. n settings that have
 * nothing to do with one another count as n, n copies of one as 1.
 *
 * No eigenvalue is worked out: their sum is the number of settings, and that of their squares is the sum of the squares of all
 * correlations, which is the same for the matrix of settings and for that of days.
 */
import { isNoise } from "../figures/statistics.ts";

/**
 * @param returns one row a setting, one column a day: setting s, day t stands at s * days + t
 * @returns between 1 and the number of settings whose returns vary, over many days; 0 where none varies. With fewer days
 * than settings it is at most the days less one.
 * Cost: settings times days times the lesser of both.
 */
export function effectiveTrials(returns: ArrayLike<number>, settings: number): number {
  const days = returns.length / settings;
  if (!Number.isInteger(days)) throw new RangeError(`${returns.length} returns are not as many for each of ${settings} settings.`);
  const { rows, count } = standardised(returns, settings, days);
  if (count === 0) return 0;
  const isWide = count <= days;
  const size = isWide ? count : days;
  let squares = 0;
  for (let a = 0; a < size; a++)
    for (let b = a; b < size; b++) {
      let product = 0;
      if (isWide) for (let t = 0; t < days; t++) product += rows[a * days + t]! * rows[b * days + t]!;
      else for (let s = 0; s < count; s++) product += rows[s * days + a]! * rows[s * days + b]!;
      squares += (a === b ? 1 : 2) * product * product;
    }
  return (count * count) / squares;
}

/** Rows of mean 0 and length 1; those that do not vary are left out. */
function standardised(returns: ArrayLike<number>, settings: number, days: number): { rows: Float64Array; count: number } {
  const rows = new Float64Array(settings * days);
  const row = new Float64Array(days);
  let count = 0;
  for (let s = 0; s < settings; s++) {
    let sum = 0;
    for (let t = 0; t < days; t++) sum += row[t] = returns[s * days + t]!;
    let squares = 0;
    for (let t = 0; t < days; t++) squares += (row[t]! - sum / days) ** 2;
    if (!(days > 1) || isNoise(Math.sqrt(squares / days), row)) continue;
    const scale = 1 / Math.sqrt(squares);
    for (let t = 0; t < days; t++) rows[count * days + t] = (row[t]! - sum / days) * scale;
    count++;
  }
  return { rows, count };
}
