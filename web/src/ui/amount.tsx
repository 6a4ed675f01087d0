import { signed, signedMoney } from "../lib/format.ts";
import { cx } from "./cx.ts";

/** A gain or loss: told by its sign as well as by its colour. */
export function Amount({
  value,
  decimals,
  className,
}: {
  readonly value: number | null;
  readonly decimals?: number;
  readonly className?: string;
}) {
  const tone = value === null || value === 0 ? "text-ink" : value > 0 ? "text-gain" : "text-loss";
  return <span className={cx(tone, className)}>{decimals === undefined ? signedMoney(value) : signed(value, decimals)}</span>;
}
