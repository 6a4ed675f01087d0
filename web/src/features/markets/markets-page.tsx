/** Instruments with their facts, sessions and coverage. */
import { useQuery } from "@tanstack/react-query";
import { Upload } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { useCommands } from "../../lib/commands.ts";
import { number, periodWords } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { DemoWorld } from "./demo-world.tsx";
import { ImportDialog } from "./import-dialog.tsx";
import { MarketSpark } from "./market-spark.tsx";
import { sessionWords } from "./session-words.ts";

/** Long cells give way on narrow screens. */
const wraps = "max-[1150px]:whitespace-normal";

export function MarketsPage() {
  const { data, error } = useQuery(queries.markets());
  const [importing, setImporting] = useState(false);
  useCommands([{ id: "import", label: "Import a file of bars", act: () => setImporting(true) }]);
  return (
    <Page
      title="Markets"
      aside={
        <>
          <Link to="/sources" className="text-[13px] text-soft hover:text-ink">
            Sources
          </Link>
          <Link to="/storage" className="text-[13px] text-soft hover:text-ink">
            Storage
          </Link>
          <DemoWorld />
          <Button variant="primary" onClick={() => setImporting(true)}>
            <Upload size={14} aria-hidden /> Import bars
          </Button>
        </>
      }
    >
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="markets" /> : null}
      {data?.length === 0 ? (
        <Empty title="No instruments yet">Import a file of bars, or make the demo world, to have something to test on.</Empty>
      ) : null}
      {data && data.length > 0 ? (
        <table className="w-full">
          <thead>
            <tr>
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
            {data.map((market) => {
              const { instrument } = market;
              return (
                <tr key={instrument.symbol} className="hover:bg-sunk">
                  <td className="min-w-52 border-rule/60 border-b px-3 py-1.5">
                    <Link to={`/markets/${encodeURIComponent(instrument.symbol)}`} className="font-semibold hover:underline">
                      {instrument.symbol}
                    </Link>{" "}
                    {instrument.name}
                    <p className="text-[13px] text-soft">{instrument.note}</p>
                  </td>
                  <td className={td}>
                    <MarketSpark symbol={instrument.symbol} />
                  </td>
                  <td className={`${td} ${wraps}`}>{sessionWords(instrument.calendar)}</td>
                  <td className={`${td} ${num}`}>{instrument.tickSize}</td>
                  <td className={`${td} ${num}`}>
                    {number(instrument.tickSize * instrument.pointValue, 2)} <span className="text-soft">{instrument.currency}</span>
                  </td>
                  <td className={`${td} ${num}`}>
                    {number(market.bars)} <span className="text-soft">{market.timeframe}</span>
                  </td>
                  <td className={`${td} ${wraps} text-soft`}>{periodWords({ from: market.firstDate, to: market.lastDate })}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : null}
      {importing ? <ImportDialog onClose={() => setImporting(false)} /> : null}
    </Page>
  );
}
