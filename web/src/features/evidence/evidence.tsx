/** A run's report: warnings first, then tabs from the summary down to single orders. */

import type { FirstFigures, Market, RunEvidence } from "@plan-tester/contract";
import { type Size, tradeKey, type WhatIf } from "@plan-tester/core";
import { Tabs } from "radix-ui";
import { type ReactNode, useEffect, useMemo, useState } from "react";
import { accountCurrency, marketOf } from "../../data/markets.ts";
import { number } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { cx } from "../../ui/cx.ts";
import { Failure, Loading } from "../../ui/states.tsx";
import { tabClass } from "../../ui/tab.ts";
import { MarksTab } from "../marks/marks-tab.tsx";
import { marksOf, useMarks } from "../marks/use-marks.ts";
import { RulesTab } from "../rules/rules-tab.tsx";
import {
  barsOf,
  type EvidenceActs,
  EvidenceContext,
  type EvidenceView,
  filterOf,
  happenedIn,
  type Stretch,
  type TradeFilter,
  viewOfStretch,
} from "../run-view/view.ts";
import { SizeTab } from "../size/size-tab.tsx";
import { TrustTab } from "../trust/trust-tab.tsx";
import { FiguresTable } from "./figures-table.tsx";
import { LogList } from "./log-list.tsx";
import { OrdersTable } from "./orders-table.tsx";
import { Periods } from "./periods.tsx";
import { PricePanel } from "./price-panel.tsx";
import { RunFailure } from "./run-failure.tsx";
import { StretchRow } from "./stretch-row.tsx";
import { Summary } from "./summary.tsx";
import { TradesTab } from "./trades-tab.tsx";
import { useEvidenceData } from "./use-evidence-data.ts";
import { useSurroundings } from "./use-surroundings.ts";
import { Warnings } from "./warnings.tsx";
import { WhatIfTab } from "./what-if-tab.tsx";

export interface EvidenceProps {
  readonly run: RunEvidence;
  readonly markets: readonly Market[];
  /** The next run, while it is made: all that is shown is of the last one then, but for what the next has told. */
  readonly running?: { readonly figures: FirstFigures | null } | null;
  readonly tab: string;
  readonly onTab: (tab: string) => void;
  readonly onLine: (line: number) => void;
  /** Shows a line without taking the keyboard away. */
  readonly onPeek: (line: number) => void;
  /** A line whose trades are wanted, and a number that changes each time they are. */
  readonly wanted?: { readonly line: number; readonly turn: number } | null;
  readonly onTry?: (levels: WhatIf) => void;
  readonly onSize?: (size: Size) => void;
  /** What was tried with the plan so far; a tab of its own where it is given. */
  readonly tried?: ReactNode;
  /** Shown at the right of the stretch. */
  readonly aside: ReactNode;
}

const TABS: readonly (readonly [string, string])[] = [
  ["summary", "Summary"],
  ["chart", "Chart"],
  ["trades", "Trades"],
  ["what-if", "What if"],
  ["trust", "Trust"],
  ["rules", "By rule"],
  ["size", "Size"],
  ["periods", "Periods"],
  ["figures", "Figures"],
  ["orders", "Orders"],
  ["log", "Log"],
];

export function Evidence({
  run,
  markets,
  running = null,
  tab,
  onTab,
  onLine,
  onPeek,
  wanted = null,
  onTry,
  onSize,
  tried,
  aside,
}: EvidenceProps) {
  const market = marketOf(markets, run.settings.symbol);
  const instrument = market?.instrument;
  const exchange = instrument?.calendar.zone ?? "UTC";
  const zone = useShownZone()(exchange);
  const [decimals, tickSize] = [instrument?.decimals ?? 2, instrument?.tickSize ?? 0.01];
  const { data, error } = useEvidenceData(run, markets);
  const [chosen, setChosen] = useKept<string | null>(`chosen trade ${run.planId}`, null);
  const [stretch, setStretch] = useKept<Stretch | null>(`stretch ${run.planId}`, null);
  const [filter, setFilter] = useState<TradeFilter | null>(null);
  const within = stretch && data ? barsOf(stretch, data) : null;
  const [from, to] = [within?.from ?? -1, within?.to ?? -1];
  const view = useMemo<EvidenceView>(() => (data && from >= 0 ? viewOfStretch(data, from, to) : run), [run, data, from, to]);
  const selected = useMemo(() => run.trades.find((trade) => tradeKey(trade) === chosen)?.id ?? null, [run, chosen]);

  const select = (id: number | null): void => {
    const trade = run.trades.find((candidate) => candidate.id === id);
    setChosen(trade ? tradeKey(trade) : null);
  };
  const acts = useMemo<EvidenceActs>(
    () => ({
      showTrades(next) {
        setFilter(next);
        onTab("trades");
      },
      showStretch: setStretch,
      openTrade(id) {
        const trade = run.trades.find((candidate) => candidate.id === id);
        if (trade) setChosen(tradeKey(trade));
        onTab("chart");
      },
      showLine: onLine,
    }),
    [run, onTab, onLine, setStretch, setChosen],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new wish counts, not the next run
  useEffect(() => {
    if (wanted)
      acts.showTrades(
        filterOf(
          `line ${wanted.line}`,
          run.trades.filter(({ entryLine, exitLine }) => entryLine === wanted.line || exitLine === wanted.line),
        ),
      );
  }, [wanted]);
  // Numbers of trades are those of one run.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  useEffect(() => setFilter(null), [run.id]);

  const around = useSurroundings(run, market, exchange);
  const made = useMarks(run.settings.symbol).marks;
  const marks = useMemo(
    () => (data ? marksOf(made, run.planId, data.bars.time, data.bars.closeTime.at(-1) ?? 0) : []),
    [made, run.planId, data],
  );
  const [, setStepping] = useKept("chart stepper", false);
  const [, setStep] = useKept<number | null>(`step ${run.id}`, null);

  const looked = within ? stretch : null;
  // Of a stretch nothing is known before the trades are there.
  const next = looked ? null : (running?.figures ?? null);
  const log = useMemo(() => happenedIn(looked, run.log, ({ timeMs }) => timeMs), [run, looked]);
  const counts: Readonly<Record<string, number>> = { trades: view.trades.length, log: log.length, marks: marks.length };
  return (
    <EvidenceContext.Provider value={acts}>
      <Tabs.Root
        value={tab}
        onValueChange={onTab}
        className={cx("flex h-full min-h-0 flex-col", running && "[&>*:not([data-next])]:opacity-70")}
      >
        <Tabs.List aria-label="Evidence" className="flex min-h-9 flex-wrap items-center border-rule border-b px-2">
          {[...TABS, ...(marks.length > 0 ? [["marks", "Marks"] as const] : []), ...(tried ? [["tried", "Journal"] as const] : [])].map(
            ([value, label]) => (
              <Tabs.Trigger key={value} value={value} className={tabClass}>
                {label}
                {value in counts ? ` ${number(counts[value])}` : ""}
              </Tabs.Trigger>
            ),
          )}
        </Tabs.List>
        <RunFailure run={run} zone={zone} onLine={onLine} />
        <div className="flex flex-col gap-1 px-3 pt-1">
          <div className="flex flex-wrap items-center justify-between gap-x-3">
            <StretchRow
              {...{ data, stretch, filter }}
              years={run.years.map(({ label }) => label)}
              onStretch={setStretch}
              shown={view.trades.length}
              all={run.trades.length}
              onFilter={setFilter}
            />
            {aside}
          </div>
          <Warnings warnings={[...view.warnings, ...around]} slips={run.slips} onLine={onLine} />
          {error ? <Failure error={error} /> : null}
        </div>
        <Tabs.Content value="summary" data-next={next ? "" : undefined} className="min-h-0 flex-1 overflow-auto">
          <Summary {...{ run, view, data, stretch, next }} currency={accountCurrency(run.settings, markets)} />
        </Tabs.Content>
        <Tabs.Content value="chart" className="min-h-0 flex-1">
          {data ? (
            <PricePanel {...{ run, data, market, marks, decimals, tickSize, selected, onLine, onPeek }} onSelect={select} />
          ) : (
            <Loading what="bars" />
          )}
        </Tabs.Content>
        <Tabs.Content value="trades" className="min-h-0 flex-1">
          <TradesTab
            {...{ view, data, zone, exchange, decimals, selected, filter, onLine }}
            title={run.title}
            planId={run.planId}
            onSelect={select}
            onOpen={acts.openTrade}
          />
        </Tabs.Content>
        <Tabs.Content value="what-if" className="min-h-0 flex-1 overflow-auto">
          <WhatIfTab view={view} data={data} planId={run.planId} {...(onTry ? { onTry } : {})} />
        </Tabs.Content>
        <Tabs.Content value="trust" className="min-h-0 flex-1 overflow-auto">
          <TrustTab run={run} view={view} data={data} />
        </Tabs.Content>
        <Tabs.Content value="rules" className="min-h-0 flex-1 overflow-auto">
          <RulesTab run={run} onLine={onLine} />
        </Tabs.Content>
        <Tabs.Content value="size" className="min-h-0 flex-1 overflow-auto">
          <SizeTab {...{ run, data }} currency={accountCurrency(run.settings, markets)} {...(onSize && { onSize })} />
        </Tabs.Content>
        <Tabs.Content value="periods" className="min-h-0 flex-1 overflow-auto">
          <Periods view={view} data={data} within={within} zone={exchange} cash={run.settings.cash} />
        </Tabs.Content>
        <Tabs.Content value="figures" className="min-h-0 flex-1 overflow-auto pt-2">
          <FiguresTable view={view} own={looked ? [] : run.ownFigures} />
        </Tabs.Content>
        <Tabs.Content value="orders" className="min-h-0 flex-1 pt-2">
          <OrdersTable runId={run.id} title={run.title} stretch={looked} {...{ zone, exchange, decimals, onLine }} />
        </Tabs.Content>
        <Tabs.Content value="log" className="min-h-0 flex-1">
          <LogList lines={log} zone={zone} />
        </Tabs.Content>
        {data && marks.length > 0 ? (
          <Tabs.Content value="marks" className="min-h-0 flex-1 overflow-auto">
            <MarksTab
              {...{ run, data, marks, decimals }}
              onStep={(bar) => {
                setStepping(true);
                setStep(bar);
                onTab("chart");
              }}
            />
          </Tabs.Content>
        ) : null}
        {tried ? (
          <Tabs.Content value="tried" className="min-h-0 flex-1">
            {tried}
          </Tabs.Content>
        ) : null}
      </Tabs.Root>
    </EvidenceContext.Provider>
  );
}
