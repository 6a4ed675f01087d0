/** A run's report: warnings first, then tabs from the summary down to single orders. */

import type { Market, RunEvidence } from "@plan-tester/contract";
import { Tabs } from "radix-ui";
import { type ReactNode, useCallback, useState } from "react";
import { number, timeAt } from "../../lib/format.ts";
import { tabClass } from "../../ui/tab.ts";
import { tradesCsv } from "./exports.ts";
import { FiguresTable } from "./figures-table.tsx";
import { LogList } from "./log-list.tsx";
import { OrdersTable } from "./orders-table.tsx";
import { PricePanel } from "./price-panel.tsx";
import { RunDoubts } from "./run-doubts.tsx";
import { fileName, SaveButton } from "./save-button.tsx";
import { Summary } from "./summary.tsx";
import { TradesTable } from "./trades-table.tsx";
import { Warnings } from "./warnings.tsx";

export interface EvidenceProps {
  readonly run: RunEvidence;
  readonly market: Market | undefined;
  readonly tab: string;
  readonly onTab: (tab: string) => void;
  readonly onLine: (line: number) => void;
  /** Shown at the right end of the tabs. */
  readonly aside: ReactNode;
}

export function Evidence({ run, market, tab, onTab, onLine, aside }: EvidenceProps) {
  const [selected, setSelected] = useState<number | null>(null);
  const zone = market?.instrument.calendar.zone ?? "UTC";
  const decimals = market?.instrument.decimals ?? 2;
  const tickSize = market?.instrument.tickSize ?? 0.01;
  const openOnChart = useCallback(
    (id: number) => {
      setSelected(id);
      onTab("chart");
    },
    [onTab],
  );
  return (
    <Tabs.Root value={tab} onValueChange={onTab} className="flex h-full min-h-0 flex-col">
      <div className="flex min-h-9 flex-wrap items-center justify-between gap-x-2 border-rule border-b px-2">
        <Tabs.List aria-label="Evidence" className="flex">
          <Tabs.Trigger value="summary" className={tabClass}>
            Summary
          </Tabs.Trigger>
          <Tabs.Trigger value="chart" className={tabClass}>
            Chart
          </Tabs.Trigger>
          <Tabs.Trigger value="trades" className={tabClass}>
            Trades {number(run.trades.length)}
          </Tabs.Trigger>
          <Tabs.Trigger value="figures" className={tabClass}>
            Figures
          </Tabs.Trigger>
          <Tabs.Trigger value="orders" className={tabClass}>
            Orders
          </Tabs.Trigger>
          <Tabs.Trigger value="log" className={tabClass}>
            Log {number(run.log.length)}
          </Tabs.Trigger>
        </Tabs.List>
        <div className="flex items-center">
          <RunDoubts key={run.id} run={run} zone={zone} onLine={onLine} />
          {aside}
        </div>
      </div>
      {run.failure ? (
        <div role="alert" className="mx-3 mt-2 border-loss border-l-3 bg-loss-wash px-2.5 py-1.5">
          <strong className="font-semibold">
            The plan stopped{run.failure.barTimeMs === null ? "" : ` at ${timeAt(run.failure.barTimeMs, zone)}`}:
          </strong>{" "}
          {run.failure.message}{" "}
          {run.failure.line ? (
            <button type="button" className="underline underline-offset-3" onClick={() => onLine(run.failure!.line!)}>
              line {run.failure.line}
            </button>
          ) : null}
        </div>
      ) : null}
      <div className="px-3 pt-2">
        <Warnings warnings={run.warnings} slips={run.slips} onLine={onLine} />
      </div>
      <Tabs.Content value="summary" className="min-h-0 flex-1 overflow-auto">
        <Summary run={run} currency={market?.instrument.currency ?? ""} />
      </Tabs.Content>
      <Tabs.Content value="chart" className="min-h-0 flex-1">
        <PricePanel key={run.planId} run={run} decimals={decimals} tickSize={tickSize} selected={selected} onSelect={setSelected} />
      </Tabs.Content>
      <Tabs.Content value="trades" className="flex min-h-0 flex-1 flex-col">
        <div className="flex justify-end px-2">
          <SaveButton label="Save trades" name={fileName(run.title, "trades")} make={() => tradesCsv(run.trades)} />
        </div>
        <TradesTable
          trades={run.trades}
          zone={zone}
          decimals={decimals}
          selected={selected}
          onSelect={setSelected}
          onOpen={openOnChart}
          onLine={onLine}
        />
      </Tabs.Content>
      <Tabs.Content value="figures" className="min-h-0 flex-1 overflow-auto pt-2">
        <FiguresTable run={run} />
      </Tabs.Content>
      <Tabs.Content value="orders" className="min-h-0 flex-1 overflow-auto pt-2">
        <OrdersTable runId={run.id} title={run.title} zone={zone} decimals={decimals} onLine={onLine} />
      </Tabs.Content>
      <Tabs.Content value="log" className="min-h-0 flex-1">
        <LogList lines={run.log} zone={zone} />
      </Tabs.Content>
    </Tabs.Root>
  );
}
