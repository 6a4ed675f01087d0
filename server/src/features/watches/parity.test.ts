/**
 * A plan on a watch does what its backtest with finer paths does on the same minutes, to the last bit (R8.2): every example
 * plan, over twenty sessions of its own market.
 */
import { engineSettings, PLAIN_SETTINGS } from "@plan-tester/contract";
import {
  type DeclaredPlan,
  type Instrument,
  lowerBound,
  makeSeries,
  resolveInputs,
  sliceSeries,
  specsOf,
  VOCABULARY,
} from "@plan-tester/core";
import { backtested, watched } from "@plan-tester/core/testing/live";
import { EXAMPLES, type Example, exampleSource, generateHistory, HISTORY_TO, instrumentNamed, moduleText } from "@plan-tester/demo";
import { linkModules, planScript, splitModules } from "@plan-tester/runner";
import { expect, test } from "vitest";

const SESSIONS = 20;
/** Sessions ahead of them, for warm-up. */
const LEAD_SESSIONS = 45;

/** Declares a plan of a linked text. The examples are our own: they need no sandbox. */
function declared(text: string): () => DeclaredPlan {
  const { plan, modules } = splitModules(text);
  const names = Object.keys(VOCABULARY);
  const evaluate = (source: string): Record<string, unknown> => {
    const exports: Record<string, unknown> = {};
    const require = (name: string): unknown => evaluate(modules.get(name)!);
    new Function("exports", "require", ...names, planScript(source))(exports, require, ...names.map((name) => VOCABULARY[name]));
    return exports;
  };
  return () => evaluate(plan).default as DeclaredPlan;
}

const minutesOf = new Map<string, ReturnType<typeof makeSeries>>();
function minutes(instrument: Instrument) {
  const known = minutesOf.get(instrument.symbol);
  if (known) return known;
  const all = makeSeries(generateHistory(instrument.symbol, HISTORY_TO).columns, "1m", instrument.calendar);
  const session = all.session[all.length - 1]! - SESSIONS - LEAD_SESSIONS + 1;
  const made = sliceSeries(all, lowerBound(all.time, all.sessions.openMs[session]!), all.length);
  minutesOf.set(instrument.symbol, made);
  return made;
}

async function both(example: Example) {
  const plan = declared(await linkModules(exampleSource(example), async (name) => moduleText(name)));
  const instruments = [example.symbol, ...(example.alsoOn ?? [])].map((symbol) => instrumentNamed(symbol)!);
  const feeds = instruments.map((instrument) => ({ instrument, minutes: minutes(instrument) }));
  const [{ minutes: main }] = feeds as [(typeof feeds)[0]];
  const settings = engineSettings(
    {
      ...PLAIN_SETTINGS,
      ...{ symbol: example.symbol, timeframe: example.timeframe, from: "", to: "", path: "finer" },
      alsoOn: [...(example.alsoOn ?? [])],
      testPosition: example.testPosition ?? null,
    },
    instruments,
  );
  const given = {
    plan,
    inputs: resolveInputs(specsOf(plan().inputs), {}),
    feeds,
    timeframe: example.timeframe,
    settings,
    fromMs: main.sessions.openMs[main.session[main.length - 1]! - SESSIONS + 1]!,
  };
  return { backtest: backtested(given), watch: watched(given) };
}

let orders = 0;
let shown = 0;
// Sheets are programs, whose twins are among them.
test.each(EXAMPLES.filter(({ saysAs }) => saysAs === undefined).map((example) => [example.id, example] as const))(
  "%s",
  async (_id, example) => {
    const { backtest, watch } = await both(example);
    orders += watch.orders.length;
    expect(watch.fills).toEqual(backtest.fills);
    expect(watch.trades).toEqual(backtest.trades);
    expect(watch.orders).toEqual(backtest.orders);
    expect(watch.equity).toEqual(backtest.equity);
    expect(watch.log).toEqual(backtest.log);
    expect(watch.shown).toEqual(backtest.shown);
    shown += watch.shown.length;
  },
);

test("the plans did something", () => {
  expect(EXAMPLES.length).toBeGreaterThan(20);
  expect(orders).toBeGreaterThan(400);
  expect(shown).toBeGreaterThan(40);
});
