/** How far groups lie apart: each mean's distance from that of all, in its own error: sum of n/s2 (m - mean)^2. */

/** @param labels of each value its group, from 0 on @param shift labels are taken from so many places further round */
export function groupsApart(values: ArrayLike<number>, labels: ArrayLike<number>, groups: number, shift = 0): number {
  const n = values.length;
  const [counts, sums, squares] = [new Float64Array(groups), new Float64Array(groups), new Float64Array(groups)];
  for (let t = 0; t < n; t++) {
    const label = labels[(t + shift) % n]!;
    counts[label]!++;
    sums[label]! += values[t]!;
    squares[label]! += values[t]! * values[t]!;
  }
  const middle = sums.reduce((sum, part) => sum + part, 0) / n;
  let q = 0;
  for (let k = 0; k < groups; k++) {
    const variance = (squares[k]! - (sums[k]! * sums[k]!) / counts[k]!) / (counts[k]! - 1);
    if (variance > 0) q += (counts[k]! / variance) * (sums[k]! / counts[k]! - middle) ** 2;
  }
  return q;
}
