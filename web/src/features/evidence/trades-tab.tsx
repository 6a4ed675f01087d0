/** The trades as a list, filtered as one types, with columns of one's choice; or in groups. */
import { GROUPINGS, type Grouping, type RegimeKind, type Trade, tradeGroups } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { fileName } from "../../lib/files.ts";
import { number, priceDecimals, signedMoney } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Select, TextInput } from "../../ui/field.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { FIRST_SORT, type GridSort, idOf, useGrid } from "../../ui/grid/use-grid.ts";
import { SaveButton } from "../../ui/save-button.tsx";
import type { EvidenceData, EvidenceView, TradeFilter } from "../run-view/view.ts";
import { REGIME_KINDS, REGIME_WORDS, type TradeStates, useTradeStates } from "../trust/market-states.ts";
import { tradesCsv } from "./exports.ts";
import { GroupTable } from "./group-table.tsx";
import { columnsOf, TradesTable, type TradesTableProps } from "./trades-table.tsx";

export interface TradesTabProps extends Omit<TradesTableProps, "grid"> {
  readonly view: EvidenceView;
  /** null until the bars are there. */
  readonly data: EvidenceData | null;
  readonly zone: string;
  /** The zone of the exchange, in which trades are grouped and files written. */
  readonly exchange: string;
  readonly decimals: number;
  readonly onLine: (line: number) => void;
  readonly title: string;
  readonly planId: string;
  readonly filter: TradeFilter | null;
}

type ChosenGrouping = Grouping | RegimeKind | "none";

const FIRST_HIDDEN: readonly string[] = ["commission", "spread", "slippage", "financing", "exitTag", "gross", "risk"];

/** Words and comparisons: "stop", "long", "net>100", "bars<5". All must hold. */
function matches(trade: Trade, words: readonly string[], states: TradeStates | null): boolean {
  if (words.length === 0) return true;
  const side = trade.side > 0 ? "long" : "short";
  const text =
    `${trade.symbol} ${side} ${trade.reason} ${trade.entryTag} ${trade.exitTag} ${states?.wordsOf(trade.id) ?? ""}`.toLowerCase();
  const numbers: Record<string, number | null> = {
    net: trade.net,
    r: trade.r,
    bars: trade.barsHeld,
    mae: trade.mae,
    mfe: trade.mfe,
    size: trade.quantity,
    line: trade.entryLine,
  };
  return words.every((word) => {
    const comparison = /^(net|r|bars|mae|mfe|size|line)([<>=])(-?\d+(?:\.\d+)?)$/.exec(word);
    if (!comparison) return text.includes(word);
    const value = numbers[comparison[1]!];
    const wanted = Number(comparison[3]);
    if (value === null || value === undefined) return false;
    return comparison[2] === "<" ? value < wanted : comparison[2] === ">" ? value > wanted : value === wanted;
  });
}

export function TradesTab({ title, planId, filter, view, data, zone, exchange, decimals, onLine, ...rest }: TradesTabProps) {
  const { trades } = view;
  const states = useTradeStates(view, data);
  const [search, setSearch] = useState("");
  const [grouping, setGrouping] = useKept<ChosenGrouping>(`grouping ${planId}`, "none");
  const [sort, onSort] = useKept<GridSort>(`trade sort ${planId}`, FIRST_SORT);
  const isBasket = trades.some(({ symbol }) => symbol !== trades[0]!.symbol);
  const digits = useMemo(
    () =>
      priceDecimals(
        trades.flatMap(({ entryPrice, exitPrice }) => [entryPrice, exitPrice]),
        decimals,
      ),
    [trades, decimals],
  );
  const columns = useMemo(() => columnsOf(zone, digits, isBasket, onLine), [zone, digits, isBasket, onLine]);
  const shown = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    return trades.filter((trade) => (!filter || filter.ids.has(trade.id)) && matches(trade, words, states));
  }, [trades, filter, search, states]);
  const grid = useGrid({ rows: shown, columns, idOf, name: "trades", firstHidden: FIRST_HIDDEN, sort, onSort });
  const groups = useMemo(() => {
    if (grouping === "none") return [];
    const isState = grouping === "volatility" || grouping === "trend";
    if (isState) return states ? tradeGroups(shown, states.groupBy(grouping), exchange) : [];
    return tradeGroups(shown, grouping, exchange);
  }, [shown, grouping, exchange, states]);
  const net = shown.reduce((sum, trade) => sum + trade.net, 0);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-2 px-3 py-1 text-[13px]">
        <TextInput
          aria-label="Filter trades"
          placeholder="stop  long  net>100  bars<5"
          title="Words are looked for in instrument, side, exit reason, tags and the market’s state (calm, wild, trending, sideways, volatility:middling, trend:middling); net, r, bars, mae, mfe, size and line can be compared."
          className="w-40"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <Select
          aria-label="Group trades by"
          className="w-auto"
          value={grouping}
          onChange={(event) => setGrouping(event.target.value as ChosenGrouping)}
        >
          <option value="none">one by one</option>
          {GROUPINGS.map((by) => (
            <option key={by} value={by}>
              by {by}
            </option>
          ))}
          {REGIME_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              by {REGIME_WORDS[kind]}
            </option>
          ))}
        </Select>
        <span className="text-soft" role="status">
          {number(shown.length)} trades, {signedMoney(net)}
        </span>
        <span className="flex-1" />
        {grouping === "none" ? <GridTools grid={grid} /> : null}
        <SaveButton label="Save trades" name={fileName(title, " trades.csv")} make={() => tradesCsv(shown, exchange)} />
      </div>
      {grouping === "none" ? (
        <TradesTable grid={grid} {...rest} />
      ) : (
        <div className="min-h-0 flex-1 overflow-auto">
          <GroupTable groups={groups} head={grouping} caption={`Trades by ${grouping}`} />
        </div>
      )}
    </div>
  );
}
