/** Net profit by month and year, by weekday and by hour. */
import { fallsOf, tradeGroups } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { dateWords, money, number, percent, signed, signedMoney } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { num, td, th } from "../../ui/page.tsx";
import { type EvidenceData, type EvidenceView, stretchOfDates, useEvidenceActs } from "../run-view/view.ts";
import { DrawdownList } from "./drawdown-list.tsx";
import { GroupTable } from "./group-table.tsx";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

export interface PeriodsProps {
  readonly view: EvidenceView;
  readonly data: EvidenceData | null;
  /** Bars that are looked at, both ends included; null for all of the run. */
  readonly within: { readonly from: number; readonly to: number } | null;
  readonly zone: string;
  readonly cash: number;
}

export function Periods({ view, data, within, zone, cash }: PeriodsProps) {
  const byWeekday = useMemo(() => tradeGroups(view.trades, "weekday", zone), [view.trades, zone]);
  const byHour = useMemo(() => tradeGroups(view.trades, "entry hour", zone), [view.trades, zone]);
  return (
    <div className="flex flex-col gap-4 p-3">
      <section>
        <h2 className="pb-1 font-semibold text-[13px]">Years and months, by equity at session ends</h2>
        <MonthTable view={view} data={data} />
      </section>
      {data ? <DrawdownList data={data} within={within} cash={cash} /> : null}
      <section>
        <h2 className="pb-1 font-semibold text-[13px]">Weekdays, by the entry of trades</h2>
        <GroupTable groups={byWeekday} head="Weekday" caption="Trades by weekday of their entry" />
      </section>
      <section>
        <h2 className="pb-1 font-semibold text-[13px]">Hours at the exchange, by the entry of trades</h2>
        <GroupTable groups={byHour} head="Hour" caption="Trades by hour of their entry" />
      </section>
      <Sessions view={view} />
    </div>
  );
}

/** The equity curve as a table, session by session; drawn when it is opened. */
function Sessions({ view: { daily } }: { readonly view: EvidenceView }) {
  const [isOpen, setOpen] = useState(false);
  const { dates } = daily;
  const equity = Array.from(daily.equity);
  const falls = isOpen ? fallsOf(equity, equity[0] ?? 0) : [];
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer py-1 font-semibold text-[13px]">The curve as a table, {number(dates.length)} sessions</summary>
      {isOpen ? (
        <table className="text-[13px]">
          <thead>
            <tr>
              <th className={th}>Session</th>
              <th className={`${th} ${num}`}>Equity at its end</th>
              <th className={`${th} ${num}`}>Change</th>
              <th className={`${th} ${num}`}>Below the peak</th>
            </tr>
          </thead>
          <tbody>
            {dates.map((date, d) => {
              const value = equity[d + 1]!;
              return (
                <tr key={date}>
                  <th scope="row" className={`${td} text-left font-normal`}>
                    {dateWords(date)}
                  </th>
                  <td className={`${td} ${num}`}>{number(value, 2)}</td>
                  <td className={`${td} ${num}`}>{signed(value - equity[d]!, 2)}</td>
                  <td className={`${td} ${num}`}>{number(-falls[d + 1]!, 2)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : null}
    </details>
  );
}

function MonthTable({ view, data }: { readonly view: EvidenceView; readonly data: EvidenceData | null }) {
  const acts = useEvidenceActs();
  const byMonth = new Map(view.months.map((period) => [period.label, period]));
  const most = Math.max(1, ...view.months.map((period) => Math.abs(period.netProfit)));
  const look = (prefix: string, label: string): void => {
    const stretch = data && stretchOfDates(prefix, label, data);
    if (stretch) acts.showStretch(stretch);
  };
  const button = "min-h-6 w-full rounded-xs text-right hover:underline";
  return (
    <div className="overflow-x-auto">
      <table className="w-full whitespace-nowrap text-[12px]">
        <caption className="sr-only">Net profit by month and year; a cell looks at that period only</caption>
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
            {["Year", "Return", "Trades", "Deepest"].map((head) => (
              <th key={head} scope="col" className="pl-2 text-right font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.years.map((year) => (
            <tr key={year.label} className="border-rule border-t">
              <th scope="row" className="text-left font-normal">
                <button type="button" className="min-h-6 hover:underline" onClick={() => look(year.label, year.label)}>
                  {year.label}
                </button>
              </th>
              {MONTHS.map((month, i) => {
                const label = `${year.label}-${String(i + 1).padStart(2, "0")}`;
                const period = byMonth.get(label);
                const strength = period ? Math.round((Math.abs(period.netProfit) / most) * 70) : 0;
                const ground = period && {
                  background: `color-mix(in srgb, var(--${period.netProfit >= 0 ? "gain" : "loss"}-wash) ${strength}%, transparent)`,
                };
                return (
                  <td key={month} className="px-1 py-0.5 text-right" style={ground || undefined}>
                    {period ? (
                      <button
                        type="button"
                        className={button}
                        title={`${month} ${year.label}: ${period.trades} trades, deepest fall ${money(period.maxDrawdown)}`}
                        onClick={() => look(label, `${month} ${year.label}`)}
                      >
                        {signedMoney(period.netProfit)}
                      </button>
                    ) : null}
                  </td>
                );
              })}
              <td className={cx("pl-2 text-right font-semibold", year.netProfit >= 0 ? "text-gain" : "text-loss")}>
                {signedMoney(year.netProfit)}
              </td>
              <td className="pl-2 text-right">{percent(year.totalReturn)}</td>
              <td className="pl-2 text-right">{year.trades}</td>
              <td className="pl-2 text-right">{money(-year.maxDrawdown)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
