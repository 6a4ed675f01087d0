import type { Market } from "@plan-tester/contract";
import { expect, test, vi } from "vitest";
import { control, keyOn, show, tall, type } from "../../testing.tsx";
import { type BarColumns, BarsList } from "./bars-list.tsx";
import type { StudyColumn } from "./use-study-columns.ts";

const HOUR = 3_600_000;
/** Around a turn of the year: in Atlantic/Faroe, which is UTC in winter, and in Asia/Tokyo, nine hours ahead. */
const FIRST = Date.UTC(2024, 11, 31, 13);
const LENGTH = 14;

function bars(): BarColumns {
  const column = (value: (k: number) => number): Float64Array => Float64Array.from({ length: LENGTH }, (_, k) => value(k));
  return {
    time: column((k) => FIRST + k * HOUR),
    closeTime: column((k) => FIRST + (k + 1) * HOUR),
    ...{ open: column((k) => 10 + k), high: column((k) => 11 + k), low: column((k) => 9 + k), close: column((k) => 10.5 + k) },
    volume: column((k) => (k * 7) % 5),
  };
}

let lists = 0;

const market = (symbol: string): Market => ({ instrument: { symbol, decimals: 2 } }) as unknown as Market;

async function list(zone: string, studies: readonly StudyColumn[] = []) {
  tall();
  const onOpen = vi.fn<(bar: number) => void>();
  const host = await show(<BarsList {...{ market: market(`KELP ${lists++}`), timeframe: "1h", bars: bars(), zone, studies, onOpen }} />);
  const rows = () => [...host.querySelectorAll<HTMLElement>("[role=row][aria-selected]")];
  return {
    host,
    onOpen,
    rows,
    grid: host.querySelector<HTMLElement>("[role=grid]")!,
    opens: () => rows().map(({ children }) => children[2]!.textContent),
  };
}

test.each([
  ["Atlantic/Faroe", ["2024: 11 bars", "2025: 3 bars"], ["23.00", "22.00", "21.00"]],
  ["Asia/Tokyo", ["2024: 2 bars", "2025: 12 bars"], ["23.00", "22.00", "21.00"]],
])("in %s a year has the bars that begin in it, the newest first", async (zone, years, newest) => {
  const { host, opens } = await list(zone);
  const choice = control(host, "Year");
  expect([...choice.querySelectorAll("option")].map(({ textContent }) => textContent)).toEqual(years);
  expect(opens().slice(0, 3)).toEqual(newest);
  await type(choice, "0");
  expect(opens().at(-1)).toBe("10.00");
  expect(opens()).toHaveLength(Number.parseInt(years[0]!.split(" ")[1]!, 10));
});

test("a bar is opened by the keyboard, by its place among all bars", async () => {
  const { grid, onOpen } = await list("UTC");
  await keyOn(grid, "ArrowDown");
  await keyOn(grid, "Enter");
  expect(onOpen).toHaveBeenCalledExactlyOnceWith(LENGTH - 1);
});

test("studies stand beside the bars: numbers as numbers, conditions as yes and no, of which one can leave the bars where it holds", async () => {
  const column = (study: string, kind: StudyColumn["kind"], value: (k: number) => number): StudyColumn => ({
    ...{ study, kind, problem: "", values: Float64Array.from({ length: LENGTH }, (_none, k) => value(k)) },
  });
  const { host, rows } = await list("UTC", [
    column("ema(close, 2)", "number", (k) => (k < 2 ? Number.NaN : k + 0.25)),
    column("close > open", "condition", (k) => (k === 0 ? Number.NaN : k % 2)),
  ]);
  const cells = () => rows().map(({ children }) => [...children].slice(-2).map(({ textContent }) => textContent));
  expect(cells()).toEqual([
    ["13.25", "yes"],
    ["12.25", "no"],
    ["11.25", "yes"],
  ]);
  await type(control(host, "Year"), "0");
  expect(cells().slice(-2)).toEqual([
    ["", "yes"],
    ["", ""],
  ]);
  await type(control(host, "Bars where"), "close > open");
  expect(new Set(cells().map(([, holds]) => holds))).toEqual(new Set(["yes"]));
  expect(rows()).toHaveLength(5);
});
