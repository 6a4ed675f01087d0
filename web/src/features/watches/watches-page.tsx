import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { money, number, units } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { StateBadge } from "./state-badge.tsx";
import { VenueBar } from "./venue-bar.tsx";

export function WatchesPage() {
  const { data, error } = useQuery(queries.watches());
  return (
    <Page title="Watches" aside={<VenueBar />}>
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="watches" /> : null}
      {data?.length === 0 ? (
        <Empty title="Nothing is being watched">
          Open a plan and press Watch: it goes to work on the practice venue with the settings of its Bench.
        </Empty>
      ) : null}
      {data && data.length > 0 ? (
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>Plan</th>
              <th className={th}>Market</th>
              <th className={th}>State</th>
              <th className={th}>Position</th>
              <th className={`${th} ${num}`}>Open profit</th>
              <th className={`${th} ${num}`}>Trades</th>
              <th className={`${th} ${num}`}>Closed net</th>
              <th className={`${th} ${num}`}>Equity</th>
            </tr>
          </thead>
          <tbody>
            {data.map((watch) => (
              <tr key={watch.id} className="hover:bg-sunk">
                <td className={td}>
                  <Link to={`/watches/${watch.id}`} className="font-semibold hover:underline">
                    {watch.planTitle}
                  </Link>
                </td>
                <td className={td}>
                  {watch.settings.symbol} <span className="text-soft">{timeframeLabel(watch.settings.timeframe)}</span>
                </td>
                <td className={td}>
                  <StateBadge state={watch.state} /> <span className="text-soft">{watch.endReason}</span>
                </td>
                <td className={td}>
                  {watch.position
                    ? `${watch.position.units > 0 ? "long" : "short"} ${units(Math.abs(watch.position.units))} at ${number(watch.position.entryPrice, 2)}`
                    : ""}
                </td>
                <td className={`${td} ${num}`}>{watch.position ? <Amount value={watch.position.profit} /> : null}</td>
                <td className={`${td} ${num}`}>{watch.trades}</td>
                <td className={`${td} ${num}`}>
                  <Amount value={watch.net} />
                </td>
                <td className={`${td} ${num}`}>{money(watch.equity)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </Page>
  );
}
