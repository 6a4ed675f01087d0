import { plainAim, type SweepDetail, type SweepRange } from "@plan-tester/contract";
import type { Aim, InputSpec, Search } from "@plan-tester/core";
import { describe, expect, test, vi } from "vitest";
import { click, control, hold, press, show, type } from "../../testing.tsx";
import { AimForm } from "./aim-form.tsx";
import { RangeList, type Ranges } from "./range-list.tsx";
import { RangeRow } from "./range-row.tsx";
import { SearchForm } from "./search-form.tsx";
import { Surface } from "./surface.tsx";
import { SweepProgress } from "./sweep-progress.tsx";
import { WIDTH } from "./sweep-view.ts";

const spec = (more: Partial<InputSpec>): InputSpec => ({
  ...{ name: "span", kind: "whole", default: 20, label: "Span", min: 2, max: 60, step: 1, unit: "bars", group: "", help: "", choices: [] },
  ...more,
});

describe("a range", () => {
  test("begins around the present value when it is ticked, and goes away when it is not", async () => {
    const form = await hold<SweepRange | null>(null, (range, onChange) => (
      <RangeRow spec={spec({})} value={20} range={range} onChange={onChange} />
    ));
    expect(form.host.textContent).toContain("stays 20");
    await click(control(form.host, "Span"));
    expect(form.value()).toMatchObject({ input: "span", from: 10 });
    await type(control(form.host, "Span, step"), "5");
    expect(form.value()).toMatchObject({ step: 5 });
    // A step of nothing would never end.
    await type(control(form.host, "Span, step"), "0");
    expect(form.value()).toMatchObject({ step: 5 });
    await click(control(form.host, "Span"));
    expect(form.value()).toBeNull();
  });

  test("of choices has a box for each, and ends with the last of them", async () => {
    const symbols = spec({ name: "run.symbol", kind: "choice", label: "Instrument", default: "KELP", choices: ["KELP", "TIDE"] });
    const form = await hold<SweepRange | null>({ input: "run.symbol", values: ["KELP", "TIDE"] }, (range, onChange) => (
      <RangeRow spec={symbols} value="KELP" range={range} onChange={onChange} />
    ));
    await click(control(form.host, "KELP"));
    expect(form.value()).toEqual({ input: "run.symbol", values: ["TIDE"] });
    await click(control(form.host, "KELP"));
    expect(form.value()).toEqual({ input: "run.symbol", values: ["KELP", "TIDE"] });
    await click(control(form.host, "TIDE"));
    await click(control(form.host, "KELP"));
    expect(form.value()).toBeNull();
  });

  test("of times is a list to write", async () => {
    const entry = spec({ name: "entry", kind: "time", label: "Entry", default: "09:30" });
    const form = await hold<SweepRange | null>({ input: "entry", values: ["09:30"] }, (range, onChange) => (
      <RangeRow spec={entry} value="09:30" range={range} onChange={onChange} />
    ));
    await type(control(form.host, "Entry, values"), "09:30, 10:15,,10:15");
    expect(form.value()).toEqual({ input: "entry", values: ["09:30", "10:15"] });
  });

  test("stands among those of the run itself, which say what a kit would add", async () => {
    const timeframe = spec({ name: "run.timeframe", kind: "choice", label: "Timeframe", choices: ["5m", "15m", "1h", "4h", "1d"] });
    const form = await hold<Ranges>({}, (ranges, onChange) => (
      <RangeList specs={[spec({})]} settings={[timeframe]} presentOf={() => "15m"} ranges={ranges} onChange={onChange} />
    ));
    expect(form.host.textContent).toContain("Put an exit kit on the plan");
    await click(control(form.host, "Timeframe"));
    // The shortest take long: only the neighbours are taken at first.
    expect(form.value()).toEqual({ "run.timeframe": { input: "run.timeframe", values: ["5m", "15m", "1h"] } });
  });
});

describe("an aim", () => {
  test("is a figure, then a blend with weights, under conditions, by the neighbours", async () => {
    const form = await hold<Aim>(plainAim("sharpe"), (aim, onChange) => <AimForm aim={aim} onChange={onChange} />);
    await type(control(form.host, "Rank by"), "netProfit");
    expect(form.value()).toEqual(plainAim("netProfit"));
    await press(form.host, "Add a metric");
    await type(control(form.host, "weight"), "3");
    expect(form.value().terms).toEqual([
      { figure: "netProfit", weight: 3 },
      { figure: "returnToDrawdown", weight: 1 },
    ]);
    expect(form.host.textContent).toContain("Blended by rank");
    await press(form.host, "Add a condition");
    await type(control(form.host, "Condition 1, figure"), "maxDrawdown");
    await type(control(form.host, "Condition 1, bound"), "at most");
    await type(control(form.host, "Condition 1, value"), "5000");
    await click(control(form.host, "Count the middle"));
    expect(form.value()).toMatchObject({ robust: true, conditions: [{ figure: "maxDrawdown", is: "at most", value: 5000 }] });
    await press(form.host, "Take condition 1 out");
    await press(form.host, "Take Net over drawdown out of the aim");
    expect(form.value()).toEqual({ terms: [{ figure: "netProfit", weight: 3 }], robust: true, conditions: [] });
  });
});

describe("a search", () => {
  test("is all of the lattice, or a number of its points by a method", async () => {
    const form = await hold<Search | null>(null, (search, onChange) => <SearchForm search={search} onChange={onChange} />);
    await type(control(form.host, "Method"), "evolution");
    expect(form.value()).toEqual({ method: "evolution", count: 400, seed: 1 });
    await type(control(form.host, "Variants at most"), "50");
    await type(control(form.host, "Method"), "model");
    expect(form.value()).toEqual({ method: "model", count: 50, seed: 1 });
    await type(control(form.host, "Method"), "all");
    expect(form.value()).toBeNull();
  });
});

describe("what a sweep is doing", () => {
  const sweep = { status: "running", done: 10, variants: 400, failed: 0, elapsedMs: 65_000 } as SweepDetail;

  test("while it goes on: how far, how fast, how long, how much; pause and stop", async () => {
    const act = vi.fn();
    const live = { done: 120, perSecond: 3.25, secondsLeft: 86, memoryBytes: 350 * 1_048_576 };
    const host = await show(<SweepProgress sweep={sweep} live={live} onAct={act} />);
    expect(host.textContent).toMatch(/120 of 400 · 3.3 a second · 1 min 26 s left · 350 MB/);
    await press(host, "Pause");
    await press(host, "Stop");
    expect(act.mock.calls).toEqual([["pause"], ["stop"]]);
  });

  test("when it has ended: how, and how many failed; a paused one goes on", async () => {
    const act = vi.fn();
    const host = await show(<SweepProgress sweep={{ ...sweep, status: "paused", failed: 3 }} live={null} onAct={act} />);
    expect(host.textContent).toContain("paused · 10 of 400 variants in 1 min 5 s · 3 failed");
    await press(host, "Go on");
    expect(act).toHaveBeenCalledWith("resume");
  });
});

describe("a surface of three inputs", () => {
  const inputs = [
    { name: "a", label: "A", values: [1, 2], ordered: true },
    { name: "b", label: "B", values: [10, 20], ordered: true },
    { name: "c", label: "C", values: ["x", "y"], ordered: false },
  ];
  const variants = [0, 1, 2, 3, 4, 5, 6, 7].map((n) => ({ a: 1 + (n & 1), b: 10 + 10 * ((n >> 1) & 1), c: n & 4 ? "y" : "x" }));
  // Net profit, the first figure, is ten times the number of the variant.
  const figures = new Float64Array(8 * WIDTH);
  for (let v = 0; v < 8; v++) figures[v * WIDTH] = 10 * v;
  const select = vi.fn();
  const view = { inputs, linked: [], variants, figures, stretches: 1 as const, aim: 0, scores: null, selected: null, onSelect: select };
  const cells = (host: HTMLElement): string[] => [...host.querySelectorAll("td button")].map((cell) => cell.textContent ?? "");

  test("has the third at its best, held by a slider, or side by side", async () => {
    const host = await show(<Surface {...view} />);
    expect(cells(host)).toEqual(["+40", "+50", "+60", "+70"]);
    await type(control(host, "C"), "1");
    expect(cells(host)).toEqual(["0", "+10", "+20", "+30"]);
    await type(control(host, "Side by side"), "c");
    expect(host.querySelectorAll("table").length).toBe(2);
    expect(cells(host)).toEqual(["0", "+10", "+20", "+30", "+40", "+50", "+60", "+70"]);
    await click(host.querySelectorAll<HTMLElement>("td button")[5]!);
    expect(select).toHaveBeenCalledWith(5);
  });

  test("asks for two inputs", async () => {
    const host = await show(<Surface {...view} inputs={inputs.slice(0, 1)} />);
    expect(host.textContent).toContain("A surface needs two inputs");
  });
});
