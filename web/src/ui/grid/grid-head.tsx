/** Heads of columns: a press sorts; dragged, or moved by Alt and an arrow, a column takes another place. */
import { type CSSProperties, type DragEvent, type KeyboardEvent, type ReactNode, useState } from "react";
import { cx } from "../cx.ts";
import type { Grid, GridColumn, GridId } from "./use-grid.ts";

export interface GridHeadProps<Row, Id extends GridId> {
  readonly grid: Grid<Row, Id>;
  readonly style: CSSProperties;
}

/** Whether a group begins with a column. */
export const isEdge = <Row,>(columns: readonly GridColumn<Row>[], i: number): boolean =>
  columns[i]!.group !== undefined && columns[i]!.group.key !== columns[i - 1]?.group?.key;

/** Neighbours that stand under one head. */
function groupsOf<Row>(columns: readonly GridColumn<Row>[]): { key: string; head: ReactNode; span: number; first: string }[] {
  const groups: { key: string; head: ReactNode; span: number; first: string }[] = [];
  for (const { key: first, group } of columns) {
    const last = groups.at(-1);
    if (last && last.key === (group?.key ?? "")) last.span++;
    else groups.push({ key: group?.key ?? "", head: group?.head ?? null, span: 1, first });
  }
  return groups;
}

export function GridHead<Row, Id extends GridId>({ grid, style }: GridHeadProps<Row, Id>) {
  const { columns } = grid;
  const [dragged, setDragged] = useState<string | null>(null);
  const groups = columns.some(({ group }) => group) ? groupsOf(columns) : [];
  return (
    <div className="sticky top-0 z-10 w-full bg-ground" style={{ minWidth: style.minWidth }}>
      {groups.length > 0 ? (
        <div role="row" className="grid text-soft" style={style}>
          {groups.map(({ first, head, span }) => (
            <div
              key={first}
              role={head ? "columnheader" : "gridcell"}
              tabIndex={-1}
              className={cx("px-1.5 pt-1", head !== null && "border-rule border-l")}
              style={{ gridColumn: `span ${span}` }}
            >
              {head}
            </div>
          ))}
        </div>
      ) : null}
      <div role="row" className="grid border-rule border-b text-soft" style={style}>
        {columns.map((column, i) => (
          <Head key={column.key} edge={isEdge(columns, i)} {...{ grid, column, dragged, setDragged }} />
        ))}
      </div>
    </div>
  );
}

interface HeadProps<Row, Id extends GridId> {
  readonly grid: Grid<Row, Id>;
  readonly column: GridColumn<Row>;
  readonly edge: boolean;
  readonly dragged: string | null;
  readonly setDragged: (key: string | null) => void;
}

function Head<Row, Id extends GridId>({ grid, column, edge, dragged, setDragged }: HeadProps<Row, Id>) {
  const { key, label, name, left, value, sorts = value !== undefined, isFixed = false } = column;
  const { sort, movable, move } = grid;
  const isOn = sort.key === key;
  const look = cx("self-end overflow-hidden px-1.5 py-1 leading-tight", left ? "text-left" : "text-right", edge && "border-rule border-l");
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = event.altKey ? { ArrowLeft: -1, ArrowRight: 1 }[event.key] : undefined;
    if (!step) return;
    event.preventDefault();
    const shown = movable.filter((other) => !grid.isHidden(other.key));
    const to = shown[shown.findIndex((other) => other.key === key) + step];
    if (to) move(key, to.key);
  };
  const moving = isFixed
    ? {}
    : {
        draggable: true,
        onKeyDown,
        onDragStart: () => setDragged(key),
        onDragEnd: () => setDragged(null),
        onDragOver: (event: DragEvent) => dragged !== null && event.preventDefault(),
        onDrop: (event: DragEvent) => {
          event.preventDefault();
          if (dragged !== null) move(dragged, key);
        },
      };
  const title = name && name !== label ? name : undefined;
  if (!sorts)
    return (
      <div role="columnheader" tabIndex={-1} title={title} className={look} {...moving}>
        {label}
      </div>
    );
  return (
    <button
      type="button"
      role="columnheader"
      aria-sort={isOn ? (sort.down ? "descending" : "ascending") : "none"}
      title={title}
      className={cx(look, "hover:text-ink")}
      onClick={() => grid.toggleSort(key)}
      {...moving}
    >
      {label}
      {isOn ? (sort.down ? "\u00a0↓" : "\u00a0↑") : ""}
    </button>
  );
}
