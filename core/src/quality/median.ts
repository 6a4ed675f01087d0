/** The middle value, 0 of none. Values stay in their order. */
export function medianOf(values: Float64Array): number {
  if (values.length === 0) return 0;
  const sorted = values.slice().sort();
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}
