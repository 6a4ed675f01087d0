/** Net profit by month and year. */
import type { RunEvidence } from "@plan-tester/contract";
import { number, signed } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

export function Periods({ run }: { readonly run: RunEvidence }) {
  const byMonth = new Map(run.months.map((period) => [period.label, period]));
  const most = Math.max(1, ...run.months.map((period) => Math.abs(period.netProfit)));
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-[13px]">
        <caption className="sr-only">Net profit by month and year</caption>
        <thead>
          <tr className="text-soft">
            <th scope="col" className="text-left font-normal">
              Net
            </th>
            {MONTHS.map((month) => (
              <th key={month} scope="col" className="px-1 text-right font-normal">
                {month}
              </th>
            ))}
            <th scope="col" className="pl-2 text-right font-normal">
              Year
            </th>
            <th scope="col" className="pl-2 text-right font-normal">
              Trades
            </th>
          </tr>
        </thead>
        <tbody>
          {run.years.map((year) => (
            <tr key={year.label} className="border-rule border-t">
              <th scope="row" className="text-left font-normal">
                {year.label}
              </th>
              {MONTHS.map((month, i) => {
                const period = byMonth.get(`${year.label}-${String(i + 1).padStart(2, "0")}`);
                const strength = period ? Math.round((Math.abs(period.netProfit) / most) * 70) : 0;
                return (
                  <td
                    key={month}
                    className="px-1 py-0.5 text-right"
                    style={
                      period
                        ? {
                            background: `color-mix(in srgb, var(--${period.netProfit >= 0 ? "gain" : "loss"}-wash) ${strength}%, transparent)`,
                          }
                        : undefined
                    }
                    title={
                      period ? `${month} ${year.label}: ${period.trades} trades, deepest fall ${number(period.maxDrawdown)}` : undefined
                    }
                  >
                    {period ? signed(period.netProfit) : ""}
                  </td>
                );
              })}
              <td className={cx("pl-2 text-right font-semibold", year.netProfit >= 0 ? "text-gain" : "text-loss")}>
                {signed(year.netProfit)}
              </td>
              <td className="pl-2 text-right">{year.trades}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
