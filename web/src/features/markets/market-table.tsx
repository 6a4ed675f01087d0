/** Instruments as rows, each with its facts; some may be ticked. */
import type { Market } from "@plan-tester/contract";
import { Link } from "react-router";
import { number, periodWords } from "../../lib/format.ts";
import { num, td, th } from "../../ui/page.tsx";
import { MarketSpark } from "./market-spark.tsx";
import { sessionWords } from "./session-words.ts";

/** Long cells give way on narrow screens. */
const wraps = "max-[1150px]:whitespace-normal";

export interface MarketTableProps {
  readonly markets: readonly Market[];
  readonly ticked: readonly string[];
  readonly onChosen: (ticked: readonly string[]) => void;
}

export function MarketTable({ markets, ticked, onChosen }: MarketTableProps) {
  const symbols = markets.map(({ instrument }) => instrument.symbol);
  const isWhole = symbols.length > 0 && symbols.every((symbol) => ticked.includes(symbol));
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th className={`${th} w-8`}>
            <input type="checkbox" aria-label="Tick all" checked={isWhole} onChange={() => onChosen(isWhole ? [] : symbols)} />
          </th>
          <th className={th}>Instrument</th>
          <th className={th}>History</th>
          <th className={th}>Session</th>
          <th className={`${th} ${num}`}>Tick</th>
          <th className={`${th} ${num}`}>Value of a tick</th>
          <th className={`${th} ${num}`}>Bars</th>
          <th className={th}>Coverage</th>
        </tr>
      </thead>
      <tbody>
        {markets.map(({ instrument, bars, timeframe, firstDate, lastDate }) => {
          const { symbol } = instrument;
          return (
            <tr key={symbol} className="hover:bg-sunk">
              <td className={td}>
                <input
                  type="checkbox"
                  aria-label={`Tick ${symbol}`}
                  checked={ticked.includes(symbol)}
                  onChange={({ target }) => onChosen(target.checked ? [...ticked, symbol] : ticked.filter((other) => other !== symbol))}
                />
              </td>
              <td className="min-w-52 border-rule/60 border-b px-3 py-1.5">
                <Link to={`/markets/${encodeURIComponent(symbol)}`} className="font-semibold hover:underline">
                  {symbol}
                </Link>{" "}
                {instrument.name}
                <p className="text-[13px] text-soft">{instrument.note}</p>
              </td>
              <td className={td}>
                <MarketSpark symbol={symbol} />
              </td>
              <td className={`${td} ${wraps}`}>{sessionWords(instrument.calendar)}</td>
              <td className={`${td} ${num}`}>{instrument.tickSize}</td>
              <td className={`${td} ${num}`}>
                {number(instrument.tickSize * instrument.pointValue, 2)} <span className="text-soft">{instrument.currency}</span>
              </td>
              <td className={`${td} ${num}`}>
                {number(bars)} <span className="text-soft">{timeframe}</span>
              </td>
              <td className={`${td} ${wraps} text-soft`}>{periodWords({ from: firstDate, to: lastDate })}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
