/** Where equity could have gone over its trades, and where it went. */
import type { Resampling } from "@plan-tester/core";
import { number } from "../../lib/format.ts";
import { BandChart } from "./band-chart.tsx";

export interface FanChartProps {
  readonly fan: Resampling["fan"];
  readonly cash: number;
  readonly nets: readonly number[];
}

export function FanChart({ fan, cash, nets }: FanChartProps) {
  let equity = cash;
  const line = nets.map((net, k) => {
    equity += net;
    return [k + 1, equity] as const;
  });
  return (
    <BandChart
      {...{ at: fan.trades, low: fan.low, middle: fan.middle, high: fan.high, line, start: cash }}
      label="Equity over the number of trades; the table beside it says the same in figures"
      caption={(least, most) =>
        `After ${number(fan.trades.at(-1) ?? 1)} trades, ${number(least)} to ${number(most)}: what was (full), the middle draw (dashed), 5 to 95 % (shaded).`
      }
    />
  );
}
