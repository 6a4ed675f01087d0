/** Rows and columns of a list as the user has arranged them: which columns, in which order, sorted by which. */
import {
  columnOrderingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  functionalUpdate,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from "@tanstack/react-table";
import { type ReactNode, useMemo } from "react";
import { useRememberedList } from "../../lib/site-data.ts";

export type GridValue = string | number | boolean | null | undefined;
export type GridId = string | number;

export interface GridColumn<Row> {
  readonly key: string;
  readonly label: string;
  /** What it is called where columns are chosen; its label where it has no other. */
  readonly name?: string;
  /** Pixels. */
  readonly width: number;
  /** Takes the room that is left. */
  readonly grows?: boolean;
  readonly left?: boolean;
  /** What it is sorted by and copied as; a column without one is neither. */
  readonly value?: (row: Row) => GridValue;
  /** What is copied, where the value is not what one reads: times. */
  readonly text?: (row: Row) => string;
  readonly show: (row: Row, index: number) => ReactNode;
  /** Whether its head sorts; every column with a value does unless this says no. */
  readonly sorts?: boolean;
  /** Sorted from the top down at first. */
  readonly downFirst?: boolean;
  /** Stays where it is, and is not offered for hiding. */
  readonly isFixed?: boolean;
  /** Neighbours of the same group stand under one head. */
  readonly group?: { readonly key: string; readonly head: ReactNode };
  /** Of its cells. */
  readonly className?: string;
}

export interface GridSort {
  readonly key: string;
  readonly down: boolean;
}

export interface GridOptions<Row, Id extends GridId> {
  readonly rows: readonly Row[];
  readonly columns: readonly GridColumn<Row>[];
  readonly idOf: (row: Row) => Id;
  /** Under which hidden columns and the order of columns are remembered. */
  readonly name: string;
  readonly firstHidden?: readonly string[];
  readonly sort: GridSort;
  readonly onSort: (sort: GridSort) => void;
  /** The rows come in that order. */
  readonly isSorted?: boolean;
}

export interface Grid<Row, Id extends GridId> {
  readonly idOf: (row: Row) => Id;
  /** In the order that is shown. */
  readonly rows: readonly Row[];
  /** Those that are shown, in their order. */
  readonly columns: readonly GridColumn<Row>[];
  /** All that can be hidden and moved, in their order. */
  readonly movable: readonly GridColumn<Row>[];
  readonly sort: GridSort;
  readonly toggleSort: (key: string) => void;
  readonly isHidden: (key: string) => boolean;
  readonly setHidden: (key: string, hidden: boolean) => void;
  /** Puts a column in the place of another, which makes room. */
  readonly move: (key: string, to: string) => void;
  /** Columns as they were at first. */
  readonly reset: () => void;
}

/** Of a column that is read, and copied, otherwise than sorted. */
export const asText = <Row>(text: (row: Row) => string): Pick<GridColumn<Row>, "text" | "show"> => ({ text, show: text });

/** By number, which is the order in which things happened. */
export const FIRST_SORT: GridSort = { key: "id", down: false };
export const idOf = <Id extends GridId>({ id }: { readonly id: Id }): Id => id;

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  columnVisibilityFeature,
  columnOrderingFeature,
});

const NONE: readonly string[] = [];
const words = new Intl.Collator();

/** What has no value comes last, whichever way is asked for: the table puts what is undefined there. */
function sortable(value: GridValue): string | number | boolean | undefined {
  return value === null || Number.isNaN(value) ? undefined : value;
}

function compare(a: unknown, b: unknown): number {
  if (typeof a === "string" && typeof b === "string") return words.compare(a, b);
  // Infinities are as large as one another.
  return Number(a) === Number(b) ? 0 : Number(a) - Number(b);
}

/** An order that was remembered, with the columns that it does not know behind those that they stand behind at first. */
export function completed(order: readonly string[], keys: readonly string[]): string[] {
  if (order.length === 0) return [];
  const whole = [...order];
  keys.forEach((key, i) => {
    if (!order.includes(key)) whole.splice(whole.indexOf(keys[i - 1] ?? "") + 1, 0, key);
  });
  return whole;
}

export function useGrid<Row, Id extends GridId>({
  rows,
  columns,
  idOf,
  name,
  firstHidden = NONE,
  sort,
  onSort,
  isSorted = false,
}: GridOptions<Row, Id>): Grid<Row, Id> {
  const [hidden, setHiddenList] = useRememberedList(`hidden ${name}`, firstHidden);
  const [order, setOrder] = useRememberedList(`order ${name}`, NONE);
  const defs = useMemo(
    () =>
      columns.map(({ key, value, downFirst = false }) => ({
        id: key,
        accessorFn: ({ row }: { readonly row: Row }) => sortable(value?.(row)),
        sortFn: (a: { getValue(id: string): unknown }, b: { getValue(id: string): unknown }) => compare(a.getValue(key), b.getValue(key)),
        sortUndefined: "last" as const,
        sortDescFirst: downFirst,
      })),
    [columns],
  );
  const data = useMemo(() => rows.map((row) => ({ row })), [rows]);
  // By their names: columns are made anew with each drawing where what they do has changed.
  const keys = columns.map(({ key }) => key).join("\n");
  const state = useMemo(
    () => ({
      sorting: [{ id: sort.key, desc: sort.down }],
      columnVisibility: Object.fromEntries(hidden.map((key) => [key, false])),
      columnOrder: completed(order, keys.split("\n")),
    }),
    [sort.key, sort.down, hidden, order, keys],
  );
  const table = useTable({
    ...{ features, columns: defs, data, state, enableSortingRemoval: false, enableMultiSort: false },
    manualSorting: isSorted,
    onSortingChange: (updater) => {
      const [next] = functionalUpdate(updater, state.sorting);
      if (next) onSort({ key: next.id, down: next.desc });
    },
  });
  const byKey = useMemo(() => new Map(columns.map((column) => [column.key, column])), [columns]);
  const of = (leaves: readonly { readonly id: string }[]): GridColumn<Row>[] => leaves.map(({ id }) => byKey.get(id)!);
  const model = table.getRowModel().rows;
  const inOrder = of(table.getAllLeafColumns());
  const movable = inOrder.filter(({ isFixed }) => !isFixed);
  const move = (key: string, to: string): void => {
    const keys = inOrder.map((column) => column.key);
    const [from, at] = [keys.indexOf(key), keys.indexOf(to)];
    if (from < 0 || at < 0 || byKey.get(to)!.isFixed) return;
    keys.splice(from, 1);
    keys.splice(at, 0, key);
    setOrder(keys);
  };
  return {
    ...{ idOf, movable, sort, move },
    rows: useMemo(() => model.map(({ original }) => original.row), [model]),
    columns: of(table.getVisibleLeafColumns()),
    toggleSort: (key) => table.getColumn(key)?.toggleSorting(),
    isHidden: (key) => hidden.includes(key),
    setHidden: (key, isHidden) => setHiddenList(isHidden ? [...hidden, key] : hidden.filter((other) => other !== key)),
    reset: () => {
      setHiddenList(firstHidden);
      setOrder(NONE);
    },
  };
}
