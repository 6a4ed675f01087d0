/** The share of the others that each value is above, equal ones half, from 0 to 1; NaN stays NaN. */
export function ranksOf(values: ArrayLike<number>): Float64Array {
  const known = Array.from(values, (_value, i) => i).filter((i) => !Number.isNaN(values[i]!));
  known.sort((a, b) => values[a]! - values[b]!);
  const ranks = new Float64Array(values.length).fill(Number.NaN);
  for (let from = 0; from < known.length; ) {
    let to = from + 1;
    while (to < known.length && values[known[to]!]! === values[known[from]!]!) to++;
    const rank = known.length === 1 ? 0.5 : (from + to - 1) / 2 / (known.length - 1);
    for (let k = from; k < to; k++) ranks[known[k]!] = rank;
    from = to;
  }
  return ranks;
}
