/** One watch: how it stands, what it may do, its orders and trades, and everything that happened. */
import type { WatchDetail } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { Page } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { Prompts } from "./prompts.tsx";
import { StateBadge } from "./state-badge.tsx";
import { VenueBar } from "./venue-bar.tsx";
import { WatchActions } from "./watch-actions.tsx";
import { WatchFacts } from "./watch-facts.tsx";
import { WatchLog } from "./watch-log.tsx";
import { WatchOrders } from "./watch-orders.tsx";
import { WatchTrades } from "./watch-trades.tsx";
import { WatchVersion } from "./watch-version.tsx";

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
  const { settings } = watch;
  return (
    <Page
      name={`Watch of ${watch.planTitle}`}
      title={
        <>
          {watch.name}{" "}
          <Link to={`/plans/${watch.planId}`} className="font-normal text-[13px] text-soft hover:underline">
            Bench of {watch.planTitle}
          </Link>
        </>
      }
      aside={<VenueBar />}
    >
      <div className="flex h-full min-h-0 flex-col">
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-rule border-b px-4 py-2">
          <p className="flex-1 text-[15px]">
            <StateBadge state={watch.state} /> {[settings.symbol, ...settings.alsoOn].join(", ")} {timeframeLabel(settings.timeframe)}
            <span className="text-soft">
              {" · "}
              {watch.options.mode}
              {watch.options.rounds === null ? "" : ` · ${watch.options.rounds} rounds`}
              {watch.endReason ? ` · ${watch.endReason}` : ""}
            </span>
          </p>
          <WatchActions watch={watch} />
        </div>
        <Prompts watches={[watch]} />
        <WatchVersion watch={watch} />
        <div className="grid min-h-0 flex-1 grid-cols-1 max-lg:overflow-auto lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
          <div className="flex min-h-0 flex-col gap-4 border-rule border-r p-4 lg:overflow-auto">
            <WatchFacts watch={watch} zone={zone} decimals={decimals} />
            <WatchOrders watch={watch} decimals={decimals} />
            <WatchTrades watch={watch} zone={zone} decimals={decimals} />
          </div>
          <WatchLog watch={watch} zone={zone} />
        </div>
      </div>
    </Page>
  );
}
