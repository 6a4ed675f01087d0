/**
 * A watch under random faults (R8.4): messages lost, told twice and late, lines that break, the server, the plan's process and
 * the venue killed at random moments, orders refused or half taken, and orders given by hand or by something else meanwhile,
 * under random policies. After each sequence book and venue agree, no order was done twice, and no trade is missing or written
 * down twice.
 *
 * Watch, command line and exchange are the real ones; sockets, processes and disks are stood in for, so that thousands of
 * sequences run in the time of a few real ones.
 */
import { PLAIN_SETTINGS, PLAIN_WATCH_OPTIONS, type WatchOptions } from "@plan-tester/contract";
import {
  type AccountReport,
  type BarSeries,
  type DeclaredPlan,
  isoDate,
  LEGS,
  LiveRun,
  makeSeries,
  NO_COSTS,
  OTHER_TAG,
  resolveSettings,
  type Trade,
  utcToWall,
  VOCABULARY,
} from "@plan-tester/core";
import { HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import type { ClientMessage, FollowedMessage, VenueWordMessage } from "@plan-tester/venue";
import { Exchange, type ExchangeState } from "@plan-tester/venue/exchange";
import fc from "fast-check";
import { expect, test } from "vitest";
import type { LiveAnswer, WorkingPlan } from "./plan-at-work.ts";
import { Watch } from "./watch.ts";
import type { WatchFacts, WatchMemory, WatchNews } from "./watch-types.ts";

const KELP = instrumentNamed("KELP")!;
const NINE = Date.UTC(2026, 2, 2, 9);
const SETTINGS = resolveSettings({ costs: NO_COSTS, path: "finer" });
type Frame = "1m" | "5m";
const FACTS = { id: "w", planId: "p", planTitle: "Buoy", source: "", inputs: {}, createdMs: 0 };
/** Where the history would be: bars are of no matter here, but there must be one. */
const historyOf = (frame: Frame): BarSeries =>
  makeSeries(
    {
      ...{ time: Float64Array.of(HISTORY_TO - 90 * 3_600_000), open: Float64Array.of(400), high: Float64Array.of(401) },
      ...{ low: Float64Array.of(399), close: Float64Array.of(400), volume: Float64Array.of(1) },
    },
    frame,
    KELP.calendar,
  );

/** Enters when flat, protected; leaves after some bars; leaves orders standing, changes and cancels them. */
const declared = (): DeclaredPlan =>
  (VOCABULARY.plan as (declaration: object) => DeclaredPlan)({
    title: "Buoy",
    // biome-ignore lint/suspicious/noExplicitAny: a plan's context is typed by language.d.ts, which plans alone see
    build({ on, enter, position, orders, bars }: any) {
      const { ticks, units } = VOCABULARY as Record<string, (value: number) => unknown>;
      let bar = 0;
      on.barClose(() => {
        bar++;
        if (position.flat) enter.long({ size: units!(1 + (bar % 3)), stopLoss: ticks!(40), target: ticks!(30), tag: `b${bar}` });
        else if (position.barsHeld > 2) position.close("enough");
        if (bar % 3 === 0) enter.short.limit(bars.close.now + 5, { stopLoss: ticks!(20), tag: "far" });
        if (bar % 4 === 0) for (const order of orders.working) order.cancel();
      });
      on.opened(() => position.tightenStop(position.entryPrice - 8));
    },
  });

/** A plan without a process of its own. */
class PlanHere implements WorkingPlan {
  wantsPrice = false;
  #run: LiveRun | null = null;
  readonly #history: BarSeries;
  readonly #onEnd: (reason: string) => void;

  constructor(history: BarSeries, onEnd: (reason: string) => void) {
    this.#history = history;
    this.#onEnd = onEnd;
  }

  #answer(commands: ReturnType<LiveRun["hear"]>): LiveAnswer {
    const { lines: log, notes, fills, trades } = this.#run!.host.drain();
    return {
      type: "live",
      id: 1,
      commands,
      log,
      notes,
      fills,
      trades,
      figures: [],
      failure: null,
      asked: [],
      held: [],
      wantsPrice: false,
      quietUntilMs: Number.NEGATIVE_INFINITY,
      ageMs: 0,
      kit: null,
    };
  }

  async start({ nowMs, account, lastReport, retries }: Parameters<WorkingPlan["start"]>[0]): Promise<LiveAnswer> {
    const feeds = [{ instrument: KELP, history: this.#history }];
    this.#run = new LiveRun({
      ...{ plan: declared(), freshPlan: declared, inputs: {}, feeds, settings: SETTINGS, nowMs, account, lastReport, retries },
    });
    return this.#answer(this.#run.begin());
  }

  async hear({ word }: Parameters<WorkingPlan["hear"]>[0]): Promise<LiveAnswer | null> {
    return this.#run && this.#answer(this.#run.hear(structuredClone(word)));
  }

  /** What the plan takes for open. */
  get units(): number {
    return this.#run?.mirror.books[0]?.units ?? 0;
  }

  settle = async (): Promise<null> => null;
  end = async (): Promise<null> => null;
  async view(): Promise<null> {
    return null;
  }

  mode(): void {}
  silence(): void {
    this.#run = null;
  }
  kill(reason: string): void {
    if (!this.#run) return;
    this.#run = null;
    this.#onEnd(reason);
  }
}

type Fault =
  | "step"
  | "lose a word"
  | "tell a word twice"
  | "hold words back"
  | "lose commands"
  | "tell commands twice"
  | "break the line"
  | "kill the server"
  | "kill the venue"
  | "kill the venue before it has written down what it told"
  | "refuse an entry"
  | "refuse an exit"
  | "take half of an entry"
  | "cancel by hand"
  | "flatten by hand"
  | "another buys"
  | "another sells"
  | "price jumps up"
  | "price jumps down";

/** The world of one sequence: an exchange that survives as its state, a watch that survives as its memory, a line between them. */
class World {
  exchange!: Exchange;
  watch!: Watch;
  plan: PlanHere | null = null;
  #told: { readonly trade: Trade; readonly report: number }[] = [];
  #saved: ExchangeState = { nowMs: NINE - 1, legs: null, accounts: [], jumps: [] };
  #memory: WatchMemory = {
    ...{
      name: "Buoy",
      options: PLAIN_WATCH_OPTIONS,
      isPaused: false,
      lastReport: 0,
      epoch: "",
      held: null,
      kit: null,
      trades: 0,
      net: 0,
      endReason: "",
      hasEnded: false,
      pending: null,
      declined: "",
    },
  };
  #words: VenueWordMessage[] = [];
  #isUp = false;
  #seq = 0;
  #next: { words: "pass" | "lose" | "twice" | "late"; commands: "pass" | "lose" | "twice" } = { words: "pass", commands: "pass" };
  #late: VenueWordMessage[] = [];

  readonly #history: BarSeries;
  readonly #facts: WatchFacts;

  constructor(options: Partial<WatchOptions>, frame: Frame) {
    this.#history = historyOf(frame);
    this.#facts = { ...FACTS, settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: frame, from: "", to: "" } };
    this.#memory = { ...this.#memory, options: { ...PLAIN_WATCH_OPTIONS, ...options } };
    this.#startVenue();
    this.exchange.openAccount({ id: "w", instruments: [KELP], settings: SETTINGS, timeframe: frame });
    this.#save();
    this.#startServer();
  }

  get trades(): Trade[] {
    return this.#told.map(({ trade }) => trade);
  }

  #save(): void {
    this.#saved = structuredClone(this.exchange.state());
  }

  #startVenue(): void {
    this.exchange = new Exchange(structuredClone(this.#saved), (word) => {
      const message = structuredClone({ ...word, seq: ++this.#seq, saidMs: Date.now() }) as VenueWordMessage;
      if (!this.#isUp) return;
      const { words } = this.#next;
      this.#next.words = "pass";
      if (words === "lose") return;
      if (words === "late") this.#late.push(message);
      else this.#words.push(message, ...(words === "twice" ? [message] : []));
    });
  }

  #startServer(): void {
    this.watch = new Watch(this.#facts, this.#memory, {
      venue: {
        send: (message) => this.#fromWatch(message),
        flatten: async (id, owner, only) => this.exchange.flatten(id, owner, only),
        cancel: async (id, owner, order) => ({ done: this.exchange.cancel(id, owner, order) }),
      },
      plan: (onEnd) => {
        this.plan = new PlanHere(this.#history, onEnd);
        return this.plan;
      },
      ...{ instruments: [KELP], engine: SETTINGS, feeds: async () => [], minutes: async () => [] },
      happened: (news) => this.#write(news),
      trades: async () => this.trades,
      renewed: () => undefined,
      clock: () => ({ nowMs: this.exchange.nowMs, speed: 600, holds: true }),
    });
    this.watch.recall(this.trades);
    this.connect();
  }

  /** What its log says. */
  readonly log: string[] = [];

  /** What is written down survives; it is written at once here. */
  #write({ trades = [], memory = {}, lostAfter, events = [] }: WatchNews): void {
    this.log.push(...events.map(({ timeMs, text }) => `${new Date(timeMs).toISOString()} ${text}`));
    if (lostAfter !== undefined) this.#told = this.#told.filter(({ report }) => report <= lostAfter);
    this.#told.push(...structuredClone(trades).map((trade) => ({ trade, report: memory.lastReport ?? 0 })));
    Object.assign(this.#written, structuredClone(memory));
  }
  readonly #written: Partial<WatchMemory> = {};

  connect(): void {
    this.#isUp = true;
    this.watch.follow();
  }

  #fromWatch(message: ClientMessage): void {
    if (!this.#isUp) return;
    if (message.type === "follow") {
      this.#late = [];
      const followed = structuredClone(this.exchange.follow(message)) as FollowedMessage;
      // Words said before are ahead of it on the line.
      this.#words.push(followed as never);
      return;
    }
    if (message.type !== "commands") return;
    const { commands } = this.#next;
    this.#next.commands = "pass";
    if (commands === "lose") return;
    for (let times = commands === "twice" ? 2 : 1; times > 0; times--) {
      const refusal = this.exchange.command(structuredClone(message));
      this.#save();
      if (refusal?.type === "refused") this.watch.follow();
    }
  }

  /** What is on the line arrives, and is answered. */
  async settle(): Promise<void> {
    for (let turns = 0; turns < 4 || this.#words.length > 0; turns++) {
      if (turns > 500) throw new Error("The line never comes to rest.");
      const words = this.#words;
      this.#words = [];
      for (const word of words)
        if ((word as { type: string }).type === "followed") this.watch.followed(word as unknown as FollowedMessage);
        else void this.watch.take(word, 1);
      await new Promise((resolve) => setImmediate(resolve));
    }
  }

  /** Faults that have not struck yet do not. */
  calm(): void {
    this.#next = { words: "pass", commands: "pass" };
  }

  async act(fault: Fault): Promise<void> {
    switch (fault) {
      case "step":
        break;
      case "lose a word":
        this.#next.words = "lose";
        break;
      case "tell a word twice":
        this.#next.words = "twice";
        break;
      case "hold words back":
        this.#next.words = "late";
        break;
      case "lose commands":
        this.#next.commands = "lose";
        break;
      case "tell commands twice":
        this.#next.commands = "twice";
        break;
      case "break the line":
        this.#words = [];
        this.#isUp = false;
        this.watch.disconnected();
        break;
      case "kill the server":
        this.watch.suspend();
        this.#words = [];
        this.#memory = { ...this.#memory, ...structuredClone(this.#written) };
        this.#startServer();
        break;
      case "kill the venue":
        this.#words = [];
        this.watch.disconnected();
        this.#startVenue();
        this.connect();
        break;
      case "refuse an entry":
        this.exchange.orderFaults.left = { refuseEntries: 1, refuseExits: 0, halveEntries: 0 };
        break;
      case "refuse an exit":
        this.exchange.orderFaults.left = { refuseEntries: 0, refuseExits: 1, halveEntries: 0 };
        break;
      case "take half of an entry":
        this.exchange.orderFaults.left = { refuseEntries: 0, refuseExits: 0, halveEntries: 1 };
        break;
      case "another buys":
      case "another sells":
        this.exchange.trade("w", "w", { symbol: "KELP", side: fault === "another buys" ? 1 : -1, quantity: 2 });
        break;
      case "price jumps up":
      case "price jumps down":
        this.exchange.jump({ symbol: "KELP", percent: fault === "price jumps up" ? 3 : -3 });
        break;
      case "kill the venue before it has written down what it told": {
        const saved = structuredClone(this.#saved);
        for (let moments = 0; moments < 8; moments++) {
          this.exchange.step();
          await this.settle();
        }
        this.#saved = saved;
        this.#words = [];
        this.watch.disconnected();
        this.#startVenue();
        this.connect();
        break;
      }
      case "cancel by hand": {
        const order = this.exchange.holdings()[0]?.report.books[0]?.orders[0];
        if (order) this.exchange.cancel("w", "w", order.id);
        break;
      }
      case "flatten by hand":
        this.exchange.flatten("w", "w");
    }
    await this.settle();
    for (let moments = 0; moments < 6; moments++) {
      this.exchange.step();
      this.#save();
      this.#words.push(...this.#late.splice(0));
      await this.settle();
    }
    this.#save();
    if (!this.#isUp) this.connect();
    await this.settle();
  }

  report(): AccountReport {
    return this.exchange.holdings().find(({ owner }) => owner === "w")!.report;
  }
}

const FAULTS: readonly Fault[] = [
  ...(["step", "step", "lose a word", "tell a word twice", "hold words back", "lose commands", "tell commands twice"] as const),
  ...([
    "break the line",
    "kill the server",
    "kill the venue",
    "kill the venue before it has written down what it told",
    "cancel by hand",
    "flatten by hand",
  ] as const),
  ...(["refuse an entry", "refuse an exit", "take half of an entry", "another buys", "another sells"] as const),
  ...(["price jumps up", "price jumps down"] as const),
];

const POLICIES: fc.Arbitrary<Partial<WatchOptions>> = fc.record({
  onEntryRefused: fc.constantFrom("skip" as const, "retry" as const),
  entryRetries: fc.integer({ min: 1, max: 3 }),
  onExitRefused: fc.constantFrom("alert" as const, "retry" as const, "flatten" as const),
  onUnknown: fc.constantFrom("adopt" as const, "flatten" as const),
  onRestart: fc.constantFrom("go on" as const, "flatten" as const),
});

const FRAMES = fc.constantFrom<Frame>("1m", "5m");

/** More of them where somebody wants: FAULT_SEQUENCES=5000. */
const RUNS = Number(process.env.FAULT_SEQUENCES ?? 60);
const SEED = Number(process.env.FAULT_SEED ?? Date.now() % 1e9);

const unitsIn = ({ books }: AccountReport): number =>
  books.reduce((sum, { lots }) => sum + lots.reduce((all, { side, quantity }) => all + side * quantity, 0), 0);

const dateOf = (timeMs: number): string => isoDate(utcToWall(KELP.calendar.zone, timeMs));

/** Sequences that failed once. */
const ADOPTS = { entryRetries: 1, onExitRefused: "alert", onUnknown: "adopt", onRestart: "go on" } as const;
const FOUND: [Fault[], Partial<WatchOptions>, Frame][] = [
  [["step", "step", "step", "lose commands", "kill the server"], { ...ADOPTS, onEntryRefused: "skip" }, "5m"],
  // An entry that the venue had not heard of, and the next bar's.
  [["step", "step", "kill the server", "step", "lose commands"], { ...ADOPTS, onEntryRefused: "skip" }, "1m"],
  // A minute told twice was two bars.
  [
    ["step", "step", "step", "step", "price jumps up", "tell a word twice", "step", "step", "step"],
    { ...ADOPTS, onEntryRefused: "skip" },
    "5m",
  ],
  // An entry sent again, and the next bar's.
  [["step", "step", "refuse an entry", "step", "step"], { ...ADOPTS, onEntryRefused: "retry" }, "1m"],
  [
    ["break the line", "step", "step", "refuse an entry", "hold words back", "step", "step", "step"],
    { ...ADOPTS, onEntryRefused: "retry" },
    "1m",
  ],
];

let sequences = 0;
let trades = 0;
test("after any sequence of faults book and venue agree, nothing was done twice and nothing is forgotten", async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.constantFrom(...FAULTS), { minLength: 3, maxLength: 25 }),
      POLICIES,
      FRAMES,
      async (faults, policies, frame) => {
        const world = new World(policies, frame);
        await world.settle();
        for (const fault of faults) {
          await world.act(fault);
          // A plan that enters when it is flat is never in twice.
          const entered = world.report().books[0]!.lots.filter(({ tag }) => tag.startsWith("b"));
          expect(entered.length, world.log.join("\n")).toBeLessThanOrEqual(1);
        }
        // Minutes without a fault, in the steps of their paths: what was lost is noticed after two.
        world.calm();
        for (let quiet = 0; quiet < 4 * LEGS; quiet++) await world.act("step");
        // What was asked for last has no word after it yet.
        world.watch.follow();
        await world.settle();
        const report = world.report();
        const held = world.watch.account!;
        expect(unitsIn(held)).toBe(unitsIn(report));
        expect(world.plan!.units).toBe(unitsIn(report));
        expect(held.books[0]!.orders.map(({ id }) => id)).toEqual(report.books[0]!.orders.map(({ id }) => id));
        // Each trade once, and their money is what the account has.
        const ids = world.trades.map(({ id }) => id);
        expect(new Set(ids).size).toBe(ids.length);
        expect(world.trades.reduce((sum, { net }) => sum + net, 0)).toBeCloseTo(report.cash - SETTINGS.cash, 6);
        const today = dateOf(world.exchange.nowMs);
        const ofToday = world.trades.filter(({ exitTime }) => dateOf(exitTime) === today);
        expect(world.watch.summary().netToday).toBeCloseTo(
          ofToday.reduce((sum, { net }) => sum + net, 0),
          6,
        );
        // What is open is protected: the plan never enters without a stop.
        for (const lot of report.books[0]!.lots) if (lot.tag !== OTHER_TAG) expect(lot.stop).not.toBeNull();
        sequences++;
        trades += ids.length;
      },
    ),
    { numRuns: RUNS, seed: SEED, examples: FOUND },
  );
  expect(sequences).toBeGreaterThanOrEqual(RUNS);
  expect(trades).toBeGreaterThan(RUNS);
  console.info(`${sequences} sequences of faults, ${trades} trades, seed ${SEED}`);
}, 3_600_000);
