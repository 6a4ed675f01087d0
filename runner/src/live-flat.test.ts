/** An exit kit's flat time on a watch: the same as in a backtest, told by the clock where bars are not there yet. */
import { EMPTY_KIT, type FlatTime, makeSeries, NO_EXITS, resolveSettings } from "@plan-tester/core";
import { afterAll, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import type { FromChild } from "./protocol.ts";
import { INSTRUMENT } from "./testing.ts";

const MONDAY = Date.UTC(2025, 2, 3);
const at = (hour: number, minute: number): number => MONDAY + (hour * 60 + minute) * 60_000;
const calendar = {
  zone: "UTC",
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "17:00" })),
  holidays: [],
  earlyCloses: [],
  sessionsPerYear: 252,
};
/** Quarters of an hour from 09:00, as many as are complete. */
function barsUntil(count: number) {
  const column = (add: number): Float64Array => Float64Array.from({ length: count }, () => 100 + add);
  const time = Float64Array.from({ length: count }, (_, i) => at(9, 15 * i));
  return makeSeries({ time, open: column(0), high: column(1), low: column(-1), close: column(0), volume: column(5) }, "15m", calendar);
}

const SOURCE = `export default plan({ title: "Held", build({ on, enter, position }) {
  on.barClose(() => { if (position.flat) enter.long(); });
} });`;
const LOT = {
  orderId: 1,
  side: 1,
  quantity: 2,
  entryPrice: 100,
  entryTime: at(9, 15),
  tag: "",
  high: 101,
  low: 99,
  stop: null,
  target: null,
} as const;

const process = new PlanProcess();
afterAll(() => process.kill("done"));
type Live = Extract<FromChild, { type: "live" }>;
const answers: ((live: Live) => void)[] = [];
process.listen(
  (message) => {
    if (message.type === "live") answers.shift()?.(message);
  },
  () => undefined,
);

let lastId = 0;
async function watch(flat: FlatTime, bars: number, isHeld: boolean) {
  const id = ++lastId;
  const heard = (): Promise<Live> => new Promise((resolve) => answers.push(resolve));
  const long = { ...NO_EXITS, flat };
  const started = heard();
  process.post({
    ...({ type: "live-start", id, source: SOURCE, inputs: {}, series: barsUntil(bars) } as const),
    instrument: { ...INSTRUMENT, calendar },
    settings: resolveSettings({ kit: { ...EMPTY_KIT, name: "Flat", long } }),
    account: { cash: 100_000, lots: isHeld ? [LOT] : [], orders: [] },
  });
  await started;
  const ask = async (message: { type: "live-clock"; timeMs: number } | { type: "live-bar"; series: ReturnType<typeof barsUntil> }) => {
    const answer = heard();
    process.post({ ...message, id });
    return answer;
  };
  return {
    clock: async (timeMs: number) => (await ask({ type: "live-clock", timeMs })).commands,
    bar: (count: number) => ask({ type: "live-bar", series: barsUntil(count) }),
  };
}
const submitted = (commands: Live["commands"]) =>
  commands.map((command) =>
    command.kind === "submit" ? [command.request.intent, command.request.side, command.request.atClose ?? false] : command.kind,
  );

test("at the close: the order for it is sent in the last minute, once", async () => {
  const { clock } = await watch({ minutes: 0, of: "session" }, 31, true);
  expect(submitted(await clock(at(16, 58)))).toEqual([]);
  expect(submitted(await clock(at(16, 59)))).toEqual([["exit", -1, true]]);
  expect(submitted(await clock(at(16, 59) + 30_000))).toEqual([]);
}, 30_000);

test("minutes before: closed at that time, and not entered from then on; the next session's entry is", async () => {
  const held = await watch({ minutes: 20, of: "session" }, 30, true);
  expect(submitted(await held.clock(at(16, 39)))).toEqual([]);
  expect(submitted(await held.clock(at(16, 40)))).toEqual([["exit", -1, false]]);

  const flat = await watch({ minutes: 20, of: "session" }, 29, false);
  expect(submitted((await flat.bar(30)).commands)).toEqual([["enter", 1, false]]);
  const late = await watch({ minutes: 20, of: "session" }, 30, false);
  const { commands, log } = await late.bar(31);
  expect(submitted(commands)).toEqual([]);
  expect(log.map(({ text }) => text).join()).toContain("exit kit: flat 20 minutes before the close");
  // The last bar closes with the session: what is sent then is for the next one.
  expect(submitted((await late.bar(32)).commands)).toEqual([["enter", 1, false]]);
}, 30_000);
