/** A list in columns, of any length: only the rows in sight are drawn; heads sort, and are moved by mouse or keys. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { type CSSProperties, type KeyboardEvent, useEffect, useRef } from "react";
import { cx } from "../cx.ts";
import { copyRows } from "./copy-rows.ts";
import { GridHead, isEdge } from "./grid-head.tsx";
import { rowKeys } from "./row-keys.ts";
import type { GridId, Grid as GridState } from "./use-grid.ts";

/** Rows of which one can be chosen. */
export interface GridChoice<Id extends GridId> {
  readonly selected: Id | null;
  /** Keys move the choice. */
  readonly onSelect: (id: Id) => void;
  /** Enter or a click, or a double click where a click only chooses. */
  readonly onOpen: (id: Id) => void;
  readonly clickChooses?: boolean;
}

export interface GridProps<Row, Id extends GridId> {
  readonly label: string;
  readonly grid: GridState<Row, Id>;
  readonly choice?: GridChoice<Id>;
  readonly titleOf?: (row: Row) => string;
  /** Rows in all, where some are still to come, and how to ask for them. */
  readonly total?: number;
  readonly onMore?: () => void;
}

const ROW = 29;
/** Rows above the chosen one, where a list is come back to. */
const ABOVE = 8;

export function Grid<Row, Id extends GridId>({ label, grid, choice, titleOf, total, onMore }: GridProps<Row, Id>) {
  const { rows, columns, idOf } = grid;
  const count = total ?? rows.length;
  const scroller = useRef<HTMLDivElement>(null);
  const chosenAt = (): number => (choice ? rows.findIndex((row) => idOf(row) === choice.selected) : -1);
  const virtual = useVirtualizer({
    ...{ count, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 },
    // One comes back to the row that one left, with some rows above it.
    initialOffset: () => Math.max(0, chosenAt() - ABOVE) * ROW,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for as one scrolls there
  useEffect(() => {
    if (last >= rows.length - 1 && rows.length < count) onMore?.();
  }, [last, rows.length, count]);
  const style: CSSProperties = {
    gridTemplateColumns: columns.map(({ width, grows }) => (grows ? `minmax(${width}px,1fr)` : `${width}px`)).join(" "),
    minWidth: columns.reduce((sum, { width }) => sum + width, 0),
  };
  const edges = columns.map((_column, i) => isEdge(columns, i));
  const moves =
    choice &&
    rowKeys({
      rows: rows.length,
      at: chosenAt,
      onMove: (to) => {
        choice.onSelect(idOf(rows[to]!));
        virtual.scrollToIndex(to);
        // Not the cell that was clicked: another row is chosen now.
        scroller.current?.focus({ preventScroll: true });
      },
      onOpen: () => choice.selected !== null && choice.onOpen(choice.selected),
    });
  const onKeyDown = (event: KeyboardEvent): void => {
    if ((event.ctrlKey || event.metaKey) && event.key === "c" && !getSelection()?.toString()) {
      const at = chosenAt();
      event.preventDefault();
      copyRows(grid, at < 0 ? rows : [rows[at]!]);
    } else moves?.(event);
  };
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-rowcount={count}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto text-[13px]"
      onKeyDown={onKeyDown}
    >
      <GridHead grid={grid} style={style} />
      <div style={{ height: virtual.getTotalSize(), minWidth: style.minWidth, position: "relative" }}>
        {items.map(({ index, start }) => {
          const row = rows[index];
          const place = { ...style, height: ROW, transform: `translateY(${start}px)` };
          if (row === undefined)
            return (
              <div key={index} role="row" aria-rowindex={index + 1} className="absolute left-0 grid w-full items-center" style={place}>
                <div role="gridcell" tabIndex={-1} className="col-span-full px-3 text-faint">
                  loading …
                </div>
              </div>
            );
          const id = idOf(row);
          const isChosen = choice?.selected === id;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the grid itself takes the arrow keys
            <div
              key={id}
              role="row"
              aria-rowindex={index + 1}
              tabIndex={-1}
              aria-selected={isChosen}
              title={titleOf?.(row) || undefined}
              className={cx(
                "absolute left-0 grid w-full items-center border-rule/60 border-b",
                isChosen ? "bg-accent-wash" : "hover:bg-sunk",
                choice && "cursor-pointer",
              )}
              style={place}
              onClick={() => (choice?.clickChooses ? choice.onSelect(id) : choice?.onOpen(id))}
              onDoubleClick={() => choice?.clickChooses && choice.onOpen(id)}
            >
              {columns.map(({ key, left, show, className }, i) => (
                <div
                  key={key}
                  role="gridcell"
                  tabIndex={-1}
                  className={cx("truncate px-1.5", left ? "text-left" : "text-right", edges[i] && "border-rule border-l", className)}
                >
                  {show(row, index)}
                </div>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}
