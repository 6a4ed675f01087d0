import { expect, test, vi } from "vitest";
import { control, keyOn, show, tall, type } from "../../testing.tsx";
import { type BarColumns, BarsList } from "./bars-list.tsx";

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

async function list(zone: string) {
  tall();
  const onOpen = vi.fn<(bar: number) => void>();
  const host = await show(<BarsList symbol={`KELP ${lists++}`} timeframe="1h" bars={bars()} zone={zone} decimals={2} onOpen={onOpen} />);
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
