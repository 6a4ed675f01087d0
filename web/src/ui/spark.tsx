/** A small curve without axes, beside its figures. */
export function Spark({
  values,
  width = 96,
  height = 22,
  label,
}: {
  readonly values: readonly number[];
  readonly width?: number;
  readonly height?: number;
  readonly label: string;
}) {
  if (values.length < 2) return null;
  const low = Math.min(...values);
  const high = Math.max(...values);
  const reach = high - low || 1;
  const at = (value: number): number => height - 2 - ((value - low) / reach) * (height - 4);
  const points = values.map((value, i) => `${((i / (values.length - 1)) * width).toFixed(1)},${at(value).toFixed(1)}`).join(" ");
  return (
    <svg width={width} height={height} role="img" aria-label={label} className="block">
      <line x1="0" x2={width} y1={at(values[0]!)} y2={at(values[0]!)} className="stroke-rule" strokeDasharray="2 2" />
      <polyline points={points} fill="none" className="stroke-ink" strokeWidth="1.2" />
    </svg>
  );
}
