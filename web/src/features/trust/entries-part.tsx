/** Entries and exits apart, each against chance: where prices go after the plan's entries, and what its exits earn on any others. */
import type { EntryPath, EntryPaths, RandomEntries } from "@plan-tester/core";
import { useState } from "react";
import { count, number, percent, signed, signedMoney } from "../../lib/format.ts";
import { Select } from "../../ui/field.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { BandChart } from "./band-chart.tsx";
import { saysChance } from "./verdict.ts";

/** Bars after the entry that the table shows. */
const ROWS = [1, 2, 3, 5, 8, 13, 21, 34, 60];

const UNITS = { ticks: "ticks", r: "R" } as const;
type Unit = keyof typeof UNITS;
const digitsOf = (unit: Unit): number => (unit === "ticks" ? 1 : 2);

export function entryWords({ at, atLeast, ticks, r }: EntryPaths): string {
  const k = at - 1;
  const inR = r ? ` (${signed(r.plan[k]!, 2)} R)` : "";
  return `By the ${at === 1 ? "close of their first bar" : `${number(at)}th close`}, which half of the trades live to see, prices have gone ${signed(ticks.plan[k]!, 1)} ticks${inR} the way of the plan’s entries; after entries by chance, of the same sides and at the same hours, ${signed(ticks.middle[k]!, 1)}, and between ${signed(ticks.low[k]!, 1)} and ${signed(ticks.high[k]!, 1)} in nine of ten draws. As good in ${percent(atLeast, 1)} of the draws: ${saysChance(atLeast, "the entries know something", "chance enters as well")}.`;
}

export function exitWords({ draws, bands, atLeast }: RandomEntries): string {
  return `Entered by chance instead, with the same sides, sizes and first exits, ${number(draws)} times: half of the draws make less than ${signedMoney(bands[2])}, which is what the exits alone earn. As good as the plan in ${percent(atLeast, 1)} of the draws: ${saysChance(atLeast, "entries and exits together know something", "the exits would have done as well with any entry")}.`;
}

export interface EntriesPartProps {
  readonly entries: EntryPaths | null;
  readonly random: RandomEntries | null;
}

export function EntriesPart({ entries, random }: EntriesPartProps) {
  const [wanted, setUnit] = useState<Unit>("ticks");
  if (!entries && !random) return null;
  const unit: Unit = entries?.r ? wanted : "ticks";
  return (
    <section aria-label="Entries and exits against chance" className="flex flex-col gap-2">
      <div className="flex items-center gap-3">
        <h2 className="font-semibold text-[13px]">Entries and exits against chance</h2>
        {entries?.r ? (
          <Select aria-label="Moves in" className="w-auto" value={unit} onChange={(event) => setUnit(event.target.value as Unit)}>
            {(Object.keys(UNITS) as Unit[]).map((one) => (
              <option key={one} value={one}>
                in {UNITS[one]}
              </option>
            ))}
          </Select>
        ) : null}
      </div>
      {entries ? <PathOf entries={entries} path={(unit === "r" && entries.r) || entries.ticks} unit={unit} /> : null}
      {random ? <p className="text-[13px]">{exitWords(random)}</p> : null}
    </section>
  );
}

function PathOf({ entries, path, unit }: { readonly entries: EntryPaths; readonly path: EntryPath; readonly unit: Unit }) {
  const { plan, low, middle, high } = path;
  const digits = digitsOf(unit);
  const columns = [
    ["Plan", plan],
    ["5 %", low],
    ["half", middle],
    ["95 %", high],
  ] as const;
  const rows = ROWS.filter((bars) => bars <= plan.length);
  return (
    <>
      <p className="text-[13px]">{entryWords(entries)}</p>
      <div className="grid gap-3 lg:grid-cols-2">
        <BandChart
          {...{ low, middle, high, start: 0 }}
          at={Array.from(plan, (_value, n) => n + 1)}
          line={Array.from(plan, (value, n) => [n + 1, value] as const)}
          label={`Mean move after entries, ${UNITS[unit]}; the table beside it says the same in figures`}
          caption={(least, most) =>
            `Mean move over ${count(plan.length, "bar")} after ${count(entries.trades, "entry", "entries")}, ${number(least, digits)} to ${number(most, digits)} ${UNITS[unit]}: the plan (full), the middle of ${number(entries.draws)} draws (dashed), 5 to 95 % (shaded). The plan’s own fills hold its slippage; entries by chance pay none.`
          }
        />
        <table className="self-start text-[13px]">
          <caption className="sr-only">Mean move after entries, {UNITS[unit]}</caption>
          <thead>
            <tr>
              <th className={th}>After</th>
              {columns.map(([label]) => (
                <th key={label} className={`${th} ${num}`}>
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((bars) => (
              <tr key={bars}>
                <th scope="row" className={`${td} text-left font-normal`}>
                  {count(bars, "bar")}
                </th>
                {columns.map(([label, values]) => (
                  <td key={label} className={`${td} ${num} ${values === plan ? "font-semibold" : ""}`}>
                    {signed(values[bars - 1]!, digits)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
