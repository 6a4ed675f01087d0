/** What lies between two places of a chart, in words; and a place as a mark. */
import type { Instrument, Mark } from "@plan-tester/core";
import type { ChartPoint, Drawn } from "../../charts/chart-boxes.tsx";
import { count, duration, number, priceText, signed } from "../../lib/format.ts";

/** To the nearest tick. */
export function onGrid(price: number, { tickSize, decimals }: Pick<Instrument, "tickSize" | "decimals">): number {
  return Number((Math.round(price / tickSize) * tickSize).toFixed(Math.max(decimals, 8)));
}

type Facts = Pick<Instrument, "tickSize" | "decimals" | "pointValue" | "currency">;

/** "12 bars, 3 h · +4.25: 17 ticks, 1.03 %, 42.50 XSC a unit" */
export function distanceWords({ from, to }: Drawn, time: Float64Array, facts: Facts): string {
  const [start, end] = [onGrid(from.value, facts), onGrid(to.value, facts)];
  const move = end - start;
  const bars = Math.abs(to.index - from.index);
  const span = Math.abs(time[to.index]! - time[from.index]!);
  const parts = [
    `${number(Math.round(move / facts.tickSize))} ticks`,
    `${number((move / start) * 100, 2)} %`,
    `${number(move * facts.pointValue, 2)} ${facts.currency} a unit`,
  ];
  return `${count(bars, "bar")}, ${duration(span)} · ${signed(move, facts.decimals)} to ${priceText(end, facts.decimals)}: ${parts.join(", ")}`;
}

/** A mark from where it gets in to where it gets out; a click alone says nothing of an exit. */
export function markOf(
  { from, to }: Drawn,
  side: 1 | -1,
  time: Float64Array,
  facts: Pick<Instrument, "tickSize" | "decimals">,
): Omit<Mark, "id"> {
  const [first, last] = from.index <= to.index ? [from, to] : [to, from];
  const hasExit = last.index > first.index;
  const at = ({ index, value }: ChartPoint) => ({ ms: time[index]!, price: onGrid(value, facts) });
  return {
    ...{ side, entryMs: at(first).ms, entryPrice: at(first).price },
    ...(hasExit ? { exitMs: at(last).ms, exitPrice: at(last).price } : { exitMs: null, exitPrice: null }),
    ...{ stop: null, target: null, note: "", planId: "" },
  };
}
