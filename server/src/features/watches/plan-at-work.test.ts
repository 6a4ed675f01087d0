/** Words of which nothing can come are told with the next that may: what the plan does is the same, told by fewer messages. */
import { engineSettings, PLAIN_SETTINGS } from "@plan-tester/contract";
import {
  type AccountReport,
  LEGS,
  lowerBound,
  makeSeries,
  minuteOf,
  minuteSoFar,
  resample,
  sliceColumns,
  sliceSeries,
  type VenueWord,
} from "@plan-tester/core";
import { generateHistory, HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { afterEach, expect, test } from "vitest";
import { PlanAtWork } from "./plan-at-work.ts";

const KELP = instrumentNamed("KELP")!;
const MINUTE = 60_000;
const SOURCE = `export default plan({ title: "Bell", build({ on, bars, log }) {
  on.barClose(() => log(\`closed \${bars.open.now} \${bars.high.now} \${bars.low.now} \${bars.close.now} \${bars.volume.now}\`));
  on.sessionOpen(() => log("session"));
  on.clock("12:07", () => log("seven past twelve"));
} });`;

const all = makeSeries(generateHistory("KELP", HISTORY_TO).columns, "1m", KELP.calendar);
/** The last session, and the ten before it as history. */
const lastSession = all.session[all.length - 1]!;
const first = all.session.indexOf(lastSession);
const minutes = sliceColumns(all, first, all.length);
const past = sliceSeries(all, all.session.indexOf(lastSession - 10), first);

const EMPTY: AccountReport = {
  ...{ cash: 100_000, commandsDone: 0, lastOrderId: 0 },
  books: [{ symbol: "KELP", isAsleep: false, isInBar: false, pathPrice: Number.NaN, fillsFromMs: 0, lots: [], orders: [], asleep: [] }],
};

let plan: PlanAtWork | null = null;
function end(): void {
  plan?.silence();
  plan?.kill("done");
}
afterEach(end);

/** The bar under way while minute i is, as it is shown and as it is known from the minutes. */
async function formingBar(i: number): Promise<{ shown: number[]; known: number[] }> {
  const minute = minuteSoFar(minuteOf(minutes, i), i % (LEGS + 1));
  const { bars, isForming } = (await plan!.view({ count: 1, untilMs: null, minute }))!.view!;
  expect(isForming).toBe(true);
  const firstMs = bars.time[0]!;
  expect(minute.time - firstMs).toBeLessThan(60 * MINUTE);
  const { open, high, low } = sliceColumns(minutes, lowerBound(minutes.time, firstMs), i);
  return {
    shown: [bars.open[0]!, bars.high[0]!, bars.low[0]!, bars.close[0]!],
    known: [open[0] ?? minute.open, Math.max(...high, minute.high), Math.min(...low, minute.low), minute.close],
  };
}

/** @param looks whether somebody looks at the plan's chart after each word: then it is told at once */
async function heard(
  looks: boolean,
): Promise<{ lines: string[]; answers: number; forming: readonly { shown: number[]; known: number[] }[] }> {
  let reason = "";
  plan = new PlanAtWork((told) => {
    reason ||= told;
  });
  const settings = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "1h", from: "", to: "", path: "finer" } as const;
  const history = resample(past, "1h").series;
  const started = await plan.start(
    {
      ...{ source: SOURCE, inputs: {}, settings: engineSettings(settings, [KELP]), nowMs: minutes.time[0]! - MINUTE, account: EMPTY },
      ...{
        lastReport: 0,
        isResumed: false,
        kit: null,
        patienceMs: 1e9,
        noEntries: "",
        askFor: "nothing",
        retries: { entries: 0, exits: 0 },
      },
    },
    async () => [{ instrument: KELP, history, hasMore: false, minutes: sliceColumns(minutes, 0, 0) }],
  );
  expect(started?.failure).toBeNull();
  const lines: string[] = [];
  const forming: { shown: number[]; known: number[] }[] = [];
  let answers = 0;
  const tell = async (word: VenueWord): Promise<void> => {
    const answer = await plan!.hear({ word, ageMs: 0, speed: 0, sentMs: Date.now() });
    if (looks) await plan!.view({ count: 1, untilMs: null, minute: null });
    if (!answer) return;
    answers++;
    lines.push(...answer.log.map(({ timeMs, text }) => `${timeMs} ${text}`));
  };
  for (let i = 0; i < minutes.time.length; i++) {
    const timeMs = minutes.time[i]!;
    await tell({ type: "opening", timeMs, symbols: ["KELP"], account: null });
    if (looks) forming.push(await formingBar(i));
    await tell({ type: "closing", timeMs: timeMs + MINUTE, minutes: [{ symbol: "KELP", bar: minuteOf(minutes, i) }], account: null });
  }
  expect(reason).toBe("");
  return { lines, answers, forming };
}

test("a plan on hours hears of a session in a few messages, and does what it does when it is told of each minute", async () => {
  const few = await heard(false);
  end();
  const each = await heard(true);
  expect(few.lines.filter((line) => line.includes("closed")).length).toBeGreaterThan(5);
  expect(few.lines.filter((line) => line.includes("seven past twelve")).length).toBe(1);
  expect(few.lines).toEqual(each.lines);
  expect(few.answers).toBeLessThan(minutes.time.length / 5);
  expect(each.forming).toHaveLength(minutes.time.length);
  for (const { shown, known } of each.forming) expect(shown).toEqual(known);
});
