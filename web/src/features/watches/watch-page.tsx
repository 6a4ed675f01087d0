/** One watch: its state with stop and target, working orders, trades, and what happened, newest first. */
import type { WatchDetail, WatchEvent } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { money, priceText, signedMoney, timeAt, units } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { StateBadge } from "./state-badge.tsx";
import { VenueBar } from "./venue-bar.tsx";

export function WatchPage() {
  const { watchId = "" } = useParams();
  const watch = useQuery(queries.watch(watchId));
  const markets = useMarkets();
  if (watch.error) return <Failure error={watch.error} />;
  if (!watch.data) return <Loading what="the watch" />;
  const instrument = instrumentOf(markets, watch.data.settings.symbol);
  return <OpenWatch watch={watch.data} zone={instrument?.calendar.zone ?? "UTC"} decimals={instrument?.decimals ?? 2} />;
}

function OpenWatch({ watch, zone, decimals }: { readonly watch: WatchDetail; readonly zone: string; readonly decimals: number }) {
  const { id } = watch;
  const stopWatch = useChange("stopWatch");
  const flattenWatch = useChange("flattenWatch");
  const atWork = watch.state !== "ended";
  const { position } = watch;
  return (
    <Page
      name={`Watch of ${watch.planTitle}`}
      title={
        <>
          {watch.planTitle}{" "}
          <Link to={`/plans/${watch.planId}`} className="font-normal text-[13px] text-soft hover:underline">
            open its Bench
          </Link>
        </>
      }
      aside={<VenueBar />}
    >
      <div className="grid h-full min-h-0 grid-cols-1 lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
        <div className="flex min-h-0 flex-col gap-4 overflow-auto border-rule border-r p-4">
          <section aria-label="State" className="flex flex-wrap items-center justify-between gap-3">
            <p className="text-[15px]">
              <StateBadge state={watch.state} /> {watch.settings.symbol} {timeframeLabel(watch.settings.timeframe)}{" "}
              <span className="text-soft">{watch.endReason}</span>
            </p>
            {atWork ? (
              <div className="flex gap-2">
                <Button onClick={() => void flattenWatch.run({ id })}>Flatten</Button>
                <Button
                  variant="danger"
                  onClick={() => void stopWatch.run({ id })}
                  title="The plan stops acting. What is open stays open with its stop and target."
                >
                  Stop
                </Button>
                <Button variant="danger" onClick={() => void stopWatch.run({ id, flatten: true })}>
                  Flatten and stop
                </Button>
              </div>
            ) : null}
          </section>
          <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1 [&_dd]:text-right [&_dd]:font-semibold [&_dt]:text-soft">
            <dt>Last price</dt>
            <dd>
              {priceText(watch.lastPrice, decimals)}{" "}
              <span className="font-normal text-soft">{watch.lastTimeMs ? timeAt(watch.lastTimeMs, zone) : ""}</span>
            </dd>
            <dt>Equity</dt>
            <dd>{money(watch.equity)}</dd>
            <dt>Closed trades, net</dt>
            <dd>
              {watch.trades} · <Amount value={watch.net} />
            </dd>
            {position ? (
              <>
                <dt>Position</dt>
                <dd>
                  {position.units > 0 ? "long" : "short"} {units(Math.abs(position.units))} at {priceText(position.entryPrice, decimals)}
                </dd>
                <dt>Stop loss</dt>
                <dd>{priceText(position.stop, decimals)}</dd>
                <dt>Target</dt>
                <dd>{priceText(position.target, decimals)}</dd>
                <dt>Open profit</dt>
                <dd>
                  <Amount value={position.profit} />
                </dd>
              </>
            ) : null}
          </dl>
          <section>
            <h2 className="pb-1 font-semibold">Working orders</h2>
            {watch.workingOrders.length === 0 ? <p className="text-soft">None.</p> : null}
            <ul>
              {watch.workingOrders.map((order) => (
                <li key={order.id} className="flex justify-between border-rule border-b py-1">
                  <span>
                    {order.side > 0 ? "buy" : "sell"} {order.quantity === null ? "all" : units(order.quantity)} {order.kind}{" "}
                    {order.tag ? `“${order.tag}”` : ""}
                  </span>
                  <strong>{order.kind === "market" ? "at market" : priceText(order.price, decimals)}</strong>
                </li>
              ))}
            </ul>
          </section>
          <section>
            <h2 className="pb-1 font-semibold">Trades</h2>
            {watch.closed.length === 0 ? (
              <p className="text-soft">None yet.</p>
            ) : (
              <table className="w-full text-[13px]">
                <thead>
                  <tr>
                    <th className={th}>Side</th>
                    <th className={th}>Exit</th>
                    <th className={`${th} ${num}`}>In</th>
                    <th className={`${th} ${num}`}>Out</th>
                    <th className={th}>By</th>
                    <th className={`${th} ${num}`}>Net</th>
                  </tr>
                </thead>
                <tbody>
                  {[...watch.closed].reverse().map((trade) => (
                    <tr key={trade.id}>
                      <td className={td}>
                        {trade.side > 0 ? "long" : "short"} {units(trade.quantity)}
                      </td>
                      <td className={td}>{timeAt(trade.exitTime, zone)}</td>
                      <td className={`${td} ${num}`}>{priceText(trade.entryPrice, decimals)}</td>
                      <td className={`${td} ${num}`}>{priceText(trade.exitPrice, decimals)}</td>
                      <td className={td}>{trade.reason}</td>
                      <td className={`${td} ${num} ${trade.net >= 0 ? "text-gain" : "text-loss"}`}>{signedMoney(trade.net)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
        </div>
        <section aria-label="What happened" className="min-h-0 overflow-auto">
          <ul className="font-mono text-[12px]">
            {watch.events.map((event) => (
              <EventRow key={event.id} event={event} zone={zone} />
            ))}
          </ul>
        </section>
      </div>
    </Page>
  );
}

const tones: Readonly<Partial<Record<WatchEvent["kind"], string>>> = {
  error: "text-loss",
  trade: "text-ink font-semibold",
  fill: "text-ink",
  state: "text-accent font-semibold",
};

function EventRow({ event, zone }: { readonly event: WatchEvent; readonly zone: string }) {
  return (
    <li className="flex gap-3 border-rule/60 border-b px-4 py-1">
      <span className="w-40 shrink-0 text-soft">{timeAt(event.timeMs, zone)}</span>
      <span className="w-12 shrink-0 text-soft">{event.kind}</span>
      <span className={tones[event.kind] ?? "text-soft"}>{event.text}</span>
    </li>
  );
}
