/** A list in columns, of any length: only the rows in sight are drawn, and every head sorts. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useMemo, useRef } from "react";
import { useKept } from "../lib/kept.ts";
import { cx } from "./cx.ts";
import { rowKeys } from "./row-keys.ts";

export type GridValue = string | number | boolean | null | undefined;

export interface GridColumn<Row> {
  readonly key: string;
  readonly label: string;
  /** Pixels. */
  readonly width: number;
  readonly left?: boolean;
  /** What it is sorted by. */
  readonly value: (row: Row) => GridValue;
  readonly show: (row: Row) => ReactNode;
}

/** Rows of which one can be chosen. */
export interface GridChoice {
  readonly selected: number | null;
  /** Keys move the choice. */
  readonly onSelect: (id: number) => void;
  /** A click or Enter. */
  readonly onOpen: (id: number) => void;
}

export interface RowGridProps<Row> {
  readonly label: string;
  readonly rows: readonly Row[];
  readonly columns: readonly GridColumn<Row>[];
  readonly idOf: (row: Row) => number;
  /** Under which its order is kept; at first it is that of the column `id`. */
  readonly sortKey: string;
  readonly choice?: GridChoice;
  readonly titleOf?: (row: Row) => string;
}

interface Sort {
  readonly key: string;
  readonly down: boolean;
}

/** By number, which is the order in which things happened. */
const FIRST_SORT: Sort = { key: "id", down: false };
const ROW = 29;
const words = new Intl.Collator();

function compare(a: GridValue, b: GridValue): number {
  if (typeof a === "string" && typeof b === "string") return words.compare(a, b);
  return Number(a) - Number(b);
}

const isMissing = (value: GridValue): boolean => value === null || value === undefined || Number.isNaN(value);

/** Whichever way is asked for, what is undefined comes last. A column that is not there leaves rows as they are. */
function inOrder<Row>(rows: readonly Row[], column: GridColumn<Row> | undefined, down: boolean): readonly Row[] {
  if (!column) return rows;
  // Each value is asked for once: there may be hundreds of thousands, and some are put together.
  const keyed = rows.map((row) => ({ row, value: column.value(row) }));
  keyed.sort(({ value: a }, { value: b }) => Number(isMissing(a)) - Number(isMissing(b)) || (down ? compare(b, a) : compare(a, b)) || 0);
  return keyed.map(({ row }) => row);
}

export function RowGrid<Row>({ label, rows: given, columns, idOf, sortKey, choice, titleOf }: RowGridProps<Row>) {
  const [sort, setSort] = useKept<Sort>(sortKey, FIRST_SORT);
  const scroller = useRef<HTMLDivElement>(null);
  const by = columns.find(({ key }) => key === sort.key);
  const rows = useMemo(() => inOrder(given, by, sort.down), [given, by, sort.down]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  const grid = { gridTemplateColumns: columns.map(({ width }) => `${width}px`).join(" ") };
  const onKeyDown =
    choice &&
    rowKeys({
      rows: rows.length,
      at: () => rows.findIndex((row) => idOf(row) === choice.selected),
      onMove: (to) => {
        choice.onSelect(idOf(rows[to]!));
        virtual.scrollToIndex(to);
      },
      onOpen: () => choice.selected !== null && choice.onOpen(choice.selected),
    });
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-rowcount={rows.length}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto text-[13px]"
      onKeyDown={onKeyDown}
    >
      <div role="row" className="sticky top-0 z-10 grid w-max min-w-full border-rule border-b bg-ground text-soft" style={grid}>
        {columns.map(({ key, label: head, left }) => (
          <button
            key={key}
            type="button"
            role="columnheader"
            aria-sort={sort.key === key ? (sort.down ? "descending" : "ascending") : "none"}
            className={cx("px-1.5 py-1", left ? "text-left" : "text-right")}
            onClick={() => setSort({ key, down: sort.key === key ? !sort.down : false })}
          >
            {head}
            {sort.key === key ? (sort.down ? " ↓" : " ↑") : ""}
          </button>
        ))}
      </div>
      <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const row = rows[index]!;
          const id = idOf(row);
          const isChosen = choice?.selected === id;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the grid itself takes the arrow keys
            <div
              key={id}
              role="row"
              tabIndex={-1}
              aria-selected={isChosen}
              title={titleOf?.(row) || undefined}
              className={cx(
                "absolute left-0 grid w-max min-w-full items-center border-rule/60 border-b",
                isChosen ? "bg-accent-wash" : "hover:bg-sunk",
                choice && "cursor-pointer",
              )}
              style={{ ...grid, height: ROW, transform: `translateY(${start}px)` }}
              onClick={() => choice?.onOpen(id)}
            >
              {columns.map(({ key, left, show }) => (
                <div key={key} role="gridcell" tabIndex={-1} className={cx("truncate px-1.5", left ? "text-left" : "text-right")}>
                  {show(row)}
                </div>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}
