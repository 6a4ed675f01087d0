import { useState } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { click, control, keyOn, press, show, tall } from "../../testing.tsx";
import { Grid } from "./grid.tsx";
import { gridText, rowsWith } from "./grid-text.ts";
import { GridTools } from "./grid-tools.tsx";
import { completed, FIRST_SORT, type GridColumn, type Grid as GridState, idOf, useGrid } from "./use-grid.ts";

interface Row {
  readonly id: number;
  readonly who: string;
  readonly net: number | null;
}

const ROWS: readonly Row[] = [
  { id: 1, who: "auk", net: 12.499999999999188 },
  { id: 2, who: "=gull", net: null },
  { id: 3, who: "tern\tern", net: -4 },
];
const COLUMNS: readonly GridColumn<Row>[] = [
  { key: "id", label: "#", name: "number", width: 40, value: idOf, show: idOf },
  { key: "who", label: "Who", width: 80, left: true, value: ({ who }) => who, show: ({ who }) => who },
  { key: "net", label: "Net", width: 60, downFirst: true, value: ({ net }) => net, show: ({ net }) => net ?? "–" },
  { key: "acts", label: "", width: 30, isFixed: true, show: () => <i /> },
];

let grids = 0;
let copied: string[] = [];
beforeEach(() => {
  copied = [];
  vi.stubGlobal("navigator", { clipboard: { writeText: async (text: string) => void copied.push(text) } });
});
afterEach(() => vi.unstubAllGlobals());

async function list(name = `a test's ${grids++}`, columns = COLUMNS) {
  tall();
  let grid: GridState<Row, number> | null = null;
  function List() {
    const [sort, onSort] = useState(FIRST_SORT);
    const [selected, onSelect] = useState<number | null>(null);
    const made = useGrid({ rows: ROWS, columns, idOf, name, firstHidden: [], sort, onSort });
    grid = made;
    return (
      <>
        <GridTools grid={made} file="list.csv" />
        <Grid label="Birds" grid={made} choice={{ selected, onSelect, onOpen: vi.fn() }} />
      </>
    );
  }
  const host = await show(<List />);
  const heads = () => [...host.querySelectorAll<HTMLElement>("[role=columnheader]")];
  const texts = (of: readonly HTMLElement[]): string[] => of.map(({ textContent }) => textContent!.replace(/\u00a0[↑↓]$/, ""));
  return {
    ...{ name, host, heads },
    grid: () => grid!,
    box: host.querySelector<HTMLElement>("[role=grid]")!,
    labels: () => texts(heads()),
    rows: () => [...host.querySelectorAll<HTMLElement>("[role=row][aria-selected]")].map(({ children }) => children[1]!.textContent),
  };
}

describe("a list", () => {
  test("is sorted by a head, the way that is looked for first, and what has no value stands last both ways", async () => {
    const { host, rows } = await list();
    await press(host, "Net");
    expect(rows()).toEqual(["auk", "tern\tern", "=gull"]);
    await press(host, "Net");
    expect(rows()).toEqual(["tern\tern", "auk", "=gull"]);
  });

  test("remembers which columns were hidden and where others were moved, until it is put back", async () => {
    const first = await list();
    await press(first.host, "Columns");
    await click(control(document.body, "number"));
    await press(document.body, "Move Net to the left");
    expect(first.labels()).toEqual(["Net", "Who", ""]);
    const again = await list(first.name);
    expect(again.labels()).toEqual(["Net", "Who", ""]);
    // A column that a later version brings along is there too.
    const late: GridColumn<Row> = { key: "late", label: "Late", width: 40, show: () => "" };
    expect((await list(first.name, [...COLUMNS, late])).labels()).toEqual(["Net", "Who", "", "Late"]);
    const back = await list(first.name);
    await press(back.host, "Columns");
    await press(document.body, "As at first");
    expect(back.labels()).toEqual(["#", "Who", "Net", ""]);
  });

  test("its heads move by Alt and an arrow, and not past what is fixed", async () => {
    const { heads, labels } = await list();
    await keyOn(heads()[0]!, "ArrowRight", { altKey: true });
    expect(labels()).toEqual(["Who", "#", "Net", ""]);
    await keyOn(heads()[2]!, "ArrowRight", { altKey: true });
    expect(labels()).toEqual(["Who", "#", "Net", ""]);
  });

  test("Ctrl+C takes all rows as they are shown, or the chosen one, for a spreadsheet", async () => {
    const { host, box } = await list();
    await press(host, "Net");
    await keyOn(box, "c", { ctrlKey: true });
    // Tails of sums are cut, what is undefined is empty, a tab stays in its cell, and no text becomes a formula.
    expect(copied).toEqual(['number\tWho\tNet\n1\tauk\t12.5\n3\t"tern\tern"\t-4\n2\t"\'=gull"\t\n']);
    await keyOn(box, "ArrowDown");
    await keyOn(box, "c", { ctrlKey: true });
    expect(copied[1]).toBe("number\tWho\tNet\n1\tauk\t12.5\n");
  });
});

test.each([
  [[], []],
  [
    ["c", "a"],
    ["c", "a", "b"],
  ],
  [
    ["a", "c"],
    ["a", "b", "c"],
  ],
  [
    ["b", "c"],
    ["a", "b", "c"],
  ],
  [
    ["c", "gone", "b", "a"],
    ["c", "gone", "b", "a"],
  ],
])("an order %j that was remembered before there were all of a, b, c is %j now", (order, now) => {
  expect(completed(order, ["a", "b", "c"])).toEqual(now);
});

test("as CSV it has the columns that are shown, in their order", async () => {
  const { grid, heads } = await list();
  await keyOn(heads()[0]!, "ArrowRight", { altKey: true });
  expect(gridText(grid(), "csv").split("\n").slice(0, 2)).toEqual(["Who,number,Net", "auk,1,12.5"]);
});

test.each([
  ["tern", [3]],
  ["", [1, 2, 3]],
  ["a 1", [1]],
  ["a 3", []],
  ["-4", [3]],
])("%s is found in rows %o", (search, ids) => {
  expect(rowsWith(search, ROWS, COLUMNS).map(idOf)).toEqual(ids);
});
