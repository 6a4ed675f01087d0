import { SKELETON } from "@plan-tester/contract";
import {
  ALWAYS_OPEN,
  Backtest,
  type DeclaredPlan,
  INPUT_KINDS,
  type Instrument,
  makeSeries,
  NO_COSTS,
  Random,
  resolveSettings,
  STUDIES,
  StudyStore,
  VOCABULARY,
} from "@plan-tester/core";
import { expect, test } from "vitest";
import { editorText, plainText, SNIPPETS } from "./snippets.ts";

const INSTRUMENT: Instrument = {
  ...{
    symbol: "REEF",
    name: "Reef",
    class: "future",
    currency: "XSC",
    tickSize: 0.25,
    pipSize: 0.25,
    pointValue: 10,
    decimals: 2,
    minQuantity: 1,
    quantityStep: 1,
  },
  ...{ calendar: ALWAYS_OPEN, costs: NO_COSTS, note: "" },
};

function walk(length: number) {
  const random = new Random(4);
  let price = 400;
  const rows = Array.from({ length }, () => {
    const open = price;
    price = Math.max(50, price + Math.round(random.normal() * 4) / 4);
    return [open, Math.max(open, price) + 0.25, Math.min(open, price) - 0.25, price, 1 + Math.floor(random.next() * 9)] as const;
  });
  const column = (k: number): Float64Array => Float64Array.from(rows, (row) => row[k]!);
  const time = Float64Array.from(rows, (_row, i) => Date.UTC(2025, 0, 6) + i * 900_000);
  return makeSeries({ time, open: column(0), high: column(1), low: column(2), close: column(3), volume: column(4) }, "15m", ALWAYS_OPEN);
}

/** What a new plan takes from build's argument: a snippet needs nothing else. */
const CONTEXT = /build\(\{\s+([^}]*?)\s+\}\)/.exec(SKELETON)![1]!;
const words = Object.entries(VOCABULARY).filter(([name]) => !(INPUT_KINDS as readonly string[]).includes(name));
const bars = walk(4000);

test("there is a piece for most studies, and each is found by another name", () => {
  expect(SNIPPETS.length).toBeGreaterThan(60);
  expect(new Set(SNIPPETS.map(({ label }) => label)).size).toBe(SNIPPETS.length);
  expect(SNIPPETS.filter(({ label }) => label.startsWith("study ")).length).toBeGreaterThan(STUDIES.length - 9);
});

test("places are numbered for the editor", () => {
  expect(editorText({ label: "", detail: "", text: "a([[1]], [[two]]) + $b" })).toBe(["a($", "{1:1}, $", "{2:two}) + \\$b"].join(""));
});

test.each(SNIPPETS.map((snippet) => [snippet.label, snippet] as const))("%s runs as it stands", (_label, snippet) => {
  // What is offered is plain enough to be run without types.
  const build = new Function("context", ...words.map(([name]) => name), `const { ${CONTEXT} } = context;\n${plainText(snippet)}`);
  const plan = (VOCABULARY.plan as (declaration: unknown) => DeclaredPlan)({
    title: "Piece",
    build: (context: unknown) => void build(context, ...words.map(([, value]) => value)),
  });
  const backtest = new Backtest({
    plan,
    inputs: {},
    feeds: [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }],
    settings: resolveSettings({}),
  });
  backtest.advance(bars.length);
  const result = backtest.result();
  expect(result.status).toBe("complete");
  if (snippet.label.startsWith("entry") || snippet.label.startsWith("size")) expect(result.trades.length).toBeGreaterThan(0);
});
