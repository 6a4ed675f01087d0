/** One watch: how it stands, what it may do, its orders and trades, and everything that happened. */
import type { WatchDetail } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { Link, useParams } from "react-router";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useKept } from "../../lib/kept.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { Page } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { tabClass } from "../../ui/tab.ts";
import { ClosedNote } from "./closed-note.tsx";
import { Prompts } from "./prompts.tsx";
import { StateBadge } from "./state-badge.tsx";
import { VenueBar } from "./venue-bar.tsx";
import { WatchActions } from "./watch-actions.tsx";
import { WatchChart, type WatchChartProps } from "./watch-chart.tsx";
import { WatchDrift } from "./watch-drift.tsx";
import { WatchFacts } from "./watch-facts.tsx";
import { WatchLog } from "./watch-log.tsx";
import { WatchOrders } from "./watch-orders.tsx";
import { WatchTrades } from "./watch-trades.tsx";
import { WatchVersion } from "./watch-version.tsx";

export function WatchPage() {
  const { watchId = "" } = useParams();
  const watch = useQuery(queries.watch(watchId));
  const markets = useMarkets();
  const shownZone = useShownZone();
  if (watch.error) return <Failure error={watch.error} />;
  if (!watch.data) return <Loading what="the watch" />;
  const instrument = instrumentOf(markets, watch.data.settings.symbol);
  const { decimals = 2, tickSize = 0.01, calendar } = instrument ?? {};
  return <OpenWatch {...{ watch: watch.data, zone: shownZone(calendar?.zone ?? "UTC"), decimals, tickSize }} />;
}

interface OpenWatchProps {
  readonly watch: WatchDetail;
  readonly zone: string;
}

/** What it did, and its trades. */
function Below({ watch, zone }: OpenWatchProps) {
  const [tab, setTab] = useKept<string>("watch tab", "log");
  return (
    <Tabs.Root value={tab} onValueChange={setTab} className="flex min-h-0 flex-1 flex-col">
      <Tabs.List aria-label="Of the watch" className="flex gap-1 border-rule border-b px-3 py-1">
        <Tabs.Trigger value="log" className={tabClass}>
          What happened
        </Tabs.Trigger>
        <Tabs.Trigger value="trades" className={tabClass}>
          Trades {watch.trades}
        </Tabs.Trigger>
        <Tabs.Trigger value="drift" className={tabClass}>
          Drift
        </Tabs.Trigger>
      </Tabs.List>
      <Tabs.Content value="log" className="flex min-h-0 flex-1 flex-col">
        <WatchLog watch={watch} zone={zone} />
      </Tabs.Content>
      <Tabs.Content value="trades" className="flex min-h-0 flex-1 flex-col">
        <WatchTrades watch={watch} zone={zone} />
      </Tabs.Content>
      <Tabs.Content value="drift" className="flex min-h-0 flex-1 flex-col">
        <WatchDrift watch={watch} zone={zone} />
      </Tabs.Content>
    </Tabs.Root>
  );
}

function OpenWatch({ watch, zone, decimals, tickSize }: OpenWatchProps & Pick<WatchChartProps, "decimals" | "tickSize">) {
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
          {watch.state === "ended" ? null : <ClosedNote symbol={settings.symbol} zone={zone} />}
        </div>
        <Prompts watches={[watch]} />
        <WatchVersion watch={watch} />
        <div className="min-h-0 flex-1 max-lg:overflow-auto lg:grid lg:grid-cols-[minmax(0,1fr)_340px]">
          <div className="flex min-h-0 flex-col border-rule border-r max-lg:h-[44rem] max-lg:border-b">
            {watch.state === "ended" ? null : (
              <div className="h-[54%] min-h-72 border-rule border-b">
                <WatchChart {...{ watch, zone, decimals, tickSize }} />
              </div>
            )}
            <Below {...{ watch, zone }} />
          </div>
          <div className="flex min-h-0 flex-col gap-4 p-4 lg:overflow-auto">
            <WatchFacts watch={watch} zone={zone} />
            <WatchOrders watch={watch} />
          </div>
        </div>
      </div>
    </Page>
  );
}
