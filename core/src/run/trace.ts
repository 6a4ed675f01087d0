/**
 * A run looked into: what the conditions and values that a plan names were on every bar, and, for a stretch of bars, all
 * that happened one thing after the other with the account as it then stood. It is a pass of its own over a plan whose
 * named values and tests report themselves; the run it explains is the same to the last bit.
 */
import type { Order, Side } from "../engine/orders.ts";
import { alignedEntry, alignedFlags, Column, Condition, entryOf, scopeOf } from "../language/columns.ts";
import { bitsOf } from "../language/study-store.ts";
import { Backtest, type BacktestOptions, type BookEvent, periodOf } from "./backtest.ts";

/** What a yes or no was on a bar. */
export const STRIP = { unknown: 0, no: 1, yes: 2 } as const;

/** A yes or no for every bar of the run's first instrument, under a name of the plan. */
export interface Strip {
  /** Number of the name. */
  readonly name: number;
  /** `holds` for conditions, which have a value on every bar; `asked` for what a handler worked out when it ran. */
  readonly kind: "holds" | "asked";
  readonly values: Uint8Array;
}

/** How often a condition that a plan names holds in a period, and when. */
export interface Holding {
  /** Number of the name. */
  readonly name: number;
  /** Bars on which it is known, on which it holds, and on which it begins to hold. */
  readonly known: number;
  readonly held: number;
  readonly began: number;
  /** Of so many equal parts of the period, the share of bars on which it holds: 0 to 1. */
  readonly shares: readonly number[];
}

export interface TraceEvent {
  /** Counts the events of a stretch. */
  readonly id: number;
  readonly barIndex: number;
  readonly timeMs: number;
  readonly kind: "value" | "test" | "log" | BookEvent["kind"];
  /** Number of the name or of the test; -1 for what has none. */
  readonly place: number;
  /** Line of the plan's source, 0 where it is not known. */
  readonly line: number;
  readonly text: string;
  /** The value of a name, or 0 and 1 of a test. */
  readonly value: number;
  /** Which of the states held after it. */
  readonly state: number;
}

/** An account at a moment. Prices in price units, money in account currency. */
export interface TraceState {
  readonly cash: number;
  readonly equity: number;
  readonly lots: readonly TraceLot[];
  readonly orders: readonly TraceOrder[];
}

export interface TraceLot {
  /** Of the order that opened it. */
  readonly orderId: number;
  readonly symbol: string;
  readonly side: Side;
  readonly units: number;
  readonly entryPrice: number;
  readonly entryBar: number;
  readonly stop: number | null;
  readonly stopReason: string;
  readonly target: number | null;
  readonly tag: string;
}

export interface TraceOrder {
  readonly id: number;
  readonly symbol: string;
  readonly side: Side;
  readonly kind: Order["kind"];
  readonly intent: Order["intent"];
  /** null for a market order. */
  readonly price: number | null;
  /** null for all that is open. */
  readonly quantity: number | null;
  readonly tag: string;
  readonly line: number;
}

/** Bars [from, to] of the run's first instrument. */
export interface TraceSteps {
  readonly from: number;
  readonly to: number;
  readonly events: readonly TraceEvent[];
  readonly states: readonly TraceState[];
  /** For each bar the state after its close. */
  readonly closeStates: readonly number[];
  /** Columns that the plan names: their values on these bars. */
  readonly columns: readonly {
    readonly name: number;
    /** Which of several columns under one name, e.g. "upper"; empty for a single one. */
    readonly part: string;
    readonly values: readonly number[];
  }[];
  /** Whether there were more events than are kept. */
  readonly isCut: boolean;
}

const MOST_EVENTS = 20_000;
const BUILDING = -1;

/** Takes what the names and tests of one run report. Give its functions to the plan, then let it run. */
export class Trace {
  readonly #declared: (Column | Condition | undefined)[];
  readonly #parts = new Map<number, Readonly<Record<string, unknown>>>();
  readonly #asked: (Uint8Array | undefined)[];
  readonly #nameLines: readonly number[];
  readonly #testLines: readonly number[];
  #events: TraceEvent[] = [];
  #states: TraceState[] = [];
  #lastState = "";
  #window: { from: number; to: number } | null = null;
  #backtest: Backtest | null = null;
  #bars = 0;
  #logged = 0;
  #isCut = false;
  #symbols: readonly string[] = [];
  #closeStates: number[] = [];
  #stretch: { from: number; to: number } | null = null;

  /** @param nameLines line of each name's place, `testLines` of each test. */
  constructor(nameLines: readonly number[], testLines: readonly number[]) {
    this.#nameLines = nameLines;
    this.#testLines = testLines;
    this.#declared = new Array<Column | Condition | undefined>(nameLines.length);
    this.#asked = new Array<Uint8Array | undefined>(nameLines.length);
  }

  get #barNow(): number {
    return this.#backtest ? this.#backtest.barNow : BUILDING;
  }

  /** A name has a value now; it is handed through. */
  readonly see = <T>(name: number, value: T): T => {
    if (value instanceof Column || value instanceof Condition) this.#declared[name] ??= value;
    const bar = this.#barNow;
    if (bar === BUILDING) {
      // Case: a study of several columns, such as the three of a band.
      if (value !== null && typeof value === "object") this.#parts.set(name, value as Readonly<Record<string, unknown>>);
      return value;
    }
    const isNumber = typeof value === "number";
    if (typeof value === "boolean") {
      this.#asked[name] ??= new Uint8Array(this.#bars);
      this.#asked[name][bar] = value ? STRIP.yes : STRIP.no;
    }
    if (this.#window && (isNumber || typeof value === "boolean" || typeof value === "string"))
      this.#note("value", name, this.#nameLines[name]!, isNumber ? "" : String(value).slice(0, 80), Number(value));
    return value;
  };

  /** A test has come out so; it is handed through. */
  readonly test = <T>(test: number, value: T): T => {
    if (this.#window && this.#backtest) this.#note("test", test, this.#testLines[test]!, "", value ? 1 : 0);
    return value;
  };

  /**
   * Runs the plan and keeps all that happens on bars [from, to] of the first instrument; with no stretch to keep it runs
   * to the end. `onStep` is called between parts of the work.
   * @throws what the plan throws.
   */
  run(options: Omit<BacktestOptions, "observer">, stretch: { from: number; to: number } | null, onStep: (done: number) => void): void {
    const { length } = periodOf(options.feeds[0]!);
    this.#bars = length;
    this.#symbols = options.feeds.map(({ instrument }) => instrument.symbol);
    const backtest = new Backtest({ ...options, observer: (event, feed) => this.#heard(event, feed) });
    this.#backtest = backtest;
    const advance = (until: number): void => {
      while (backtest.barsDone < until) {
        onStep(backtest.barsDone);
        backtest.advance(Math.min(until, backtest.barsDone + 20_000));
      }
    };
    if (!stretch) return advance(length);
    const from = Math.max(0, Math.min(stretch.from, length - 1));
    const to = Math.max(from, Math.min(stretch.to, length - 1));
    advance(from);
    this.#window = { from, to };
    this.#logged = backtest.host.lines.length;
    this.#closeStates = [];
    for (let i = from; i <= to; i++) {
      onStep(i);
      backtest.advance(i + 1);
      this.#flushLog();
      this.#closeStates.push(this.#stateNow(backtest.equity[i]));
    }
    this.#stretch = { from, to };
    this.#window = null;
  }

  /** A strip for each condition that the plan names, then for each yes or no that its handlers worked out. */
  strips(): Strip[] {
    const backtest = this.#backtest;
    if (!backtest) return [];
    const main = backtest.host.scopeOfFeed(0);
    const strips: Strip[] = [];
    this.#declared.forEach((value, name) => {
      if (!(value instanceof Condition)) return;
      const entry = alignedFlags(main, value);
      const bits = bitsOf(entry);
      const values = new Uint8Array(this.#bars);
      const { lead } = backtest;
      for (let i = Math.max(0, entry.first - lead); i < this.#bars; i++) values[i] = bits[lead + i] === 1 ? STRIP.yes : STRIP.no;
      strips.push({ name, kind: "holds", values });
    });
    this.#asked.forEach((values, name) => {
      if (values) strips.push({ name, kind: "asked", values });
    });
    return strips;
  }

  /**
   * What the conditions that the plan names are on the bars of the period, without a run of it: they are whole columns once
   * the plan is built. @throws what the plan's build throws.
   */
  holdings(options: Omit<BacktestOptions, "observer">, parts: number): Holding[] {
    const { length } = periodOf(options.feeds[0]!);
    this.#bars = length;
    this.#backtest = new Backtest(options);
    return this.strips().map(({ name, values }) => holdingOf(name, values, Math.min(parts, length)));
  }

  /** What happened in the stretch that was asked for; null where none was. */
  steps(): TraceSteps | null {
    const stretch = this.#stretch;
    if (!stretch || !this.#backtest) return null;
    const { lead } = this.#backtest;
    const main = this.#backtest.host.scopeOfFeed(0);
    const valuesOf = (column: Column): number[] =>
      Array.from(alignedEntry(main, scopeOf(column), entryOf(column)).values.subarray(lead + stretch.from, lead + stretch.to + 1));
    const columns: { name: number; part: string; values: number[] }[] = [];
    this.#nameLines.forEach((_line, name) => {
      const value = this.#declared[name];
      if (value instanceof Column) columns.push({ name, part: "", values: valuesOf(value) });
      else if (!value && this.#parts.has(name))
        for (const [part, column] of columnsIn(this.#parts.get(name)!)) columns.push({ name, part, values: valuesOf(column) });
    });
    return { ...stretch, events: this.#events, states: this.#states, closeStates: this.#closeStates, columns, isCut: this.#isCut };
  }

  #heard(event: BookEvent, feed: number): void {
    if (!this.#window) return;
    const several = this.#symbols.length > 1 ? `${this.#symbols[feed]} ` : "";
    const { text, line, id } = wordsOf(event);
    this.#note(event.kind, id, line, several + text, 0);
  }

  #flushLog(): void {
    const { lines } = this.#backtest!.host;
    for (; this.#logged < lines.length; this.#logged++) {
      const line = lines[this.#logged]!;
      this.#push({ kind: "log", place: -1, line: 0, text: `${line.level}: ${line.text}`, value: 0 });
    }
  }

  #note(kind: TraceEvent["kind"], place: number, line: number, text: string, value: number): void {
    this.#flushLog();
    this.#push({ kind, place, line, text, value });
  }

  #push(event: Pick<TraceEvent, "kind" | "place" | "line" | "text" | "value">): void {
    if (this.#events.length >= MOST_EVENTS) {
      this.#isCut = true;
      return;
    }
    const { cursor } = this.#backtest!.host;
    this.#events.push({ ...event, id: this.#events.length, barIndex: this.#barNow, timeMs: cursor.timeMs, state: this.#stateNow() });
  }

  /** Number of the state that holds now; a new one where something has changed. */
  #stateNow(equity?: number): number {
    const { account, books } = this.#backtest!;
    const state: TraceState = {
      cash: account.cash,
      equity: equity ?? account.equity,
      lots: books.flatMap((book, k) =>
        book.lots.map((lot) => ({
          orderId: lot.order.id,
          symbol: this.#symbols[k]!,
          side: lot.side,
          units: lot.quantity,
          entryPrice: lot.entryPrice,
          entryBar: lot.entryBar - this.#backtest!.lead,
          stop: lot.stop?.price ?? null,
          stopReason: lot.stopReason,
          target: lot.target?.price ?? null,
          tag: lot.order.tag,
        })),
      ),
      orders: books.flatMap((book, k) =>
        book.workingOrders().map((order) => ({
          id: order.id,
          symbol: this.#symbols[k]!,
          side: order.side,
          kind: order.kind,
          intent: order.intent,
          price: Number.isFinite(order.price) ? order.price : null,
          quantity: Number.isFinite(order.quantity) ? order.quantity : null,
          tag: order.tag,
          line: order.line,
        })),
      ),
    };
    const text = JSON.stringify(state);
    if (text !== this.#lastState) {
      this.#lastState = text;
      this.#states.push(state);
    }
    return this.#states.length - 1;
  }
}

function holdingOf(name: number, values: Uint8Array, parts: number): Holding {
  let [known, held, began] = [0, 0, 0];
  const counts = new Array<number>(parts).fill(0);
  const n = values.length;
  for (let i = 0; i < n; i++) {
    if (values[i] === STRIP.unknown) continue;
    known++;
    if (values[i] !== STRIP.yes) continue;
    held++;
    if (i === 0 || values[i - 1] !== STRIP.yes) began++;
    counts[Math.floor((i * parts) / n)]!++;
  }
  const sizeOf = (part: number): number => Math.ceil(((part + 1) * n) / parts) - Math.ceil((part * n) / parts);
  return { name, known, held, began, shares: counts.map((count, part) => count / sizeOf(part)) };
}

/** The columns among an object's own values; a plan may hand over anything, also what throws when it is read. */
function columnsIn(value: Readonly<Record<string, unknown>>): [string, Column][] {
  try {
    return Object.entries(value).filter((entry): entry is [string, Column] => entry[1] instanceof Column);
  } catch {
    return [];
  }
}

function wordsOf(event: BookEvent): { text: string; line: number; id: number } {
  const sideOf = (side: Side): string => (side > 0 ? "buy" : "sell");
  switch (event.kind) {
    case "accepted":
    case "ended": {
      const { order } = event;
      const price = Number.isFinite(order.price) ? ` at ${order.price}` : "";
      const size = Number.isFinite(order.quantity) ? ` ${order.quantity}` : " all";
      const end = event.kind === "ended" ? ` ${order.state}${order.note ? `: ${order.note}` : ""}` : "";
      return { text: `order ${order.id}, ${sideOf(order.side)} ${order.kind}${size}${price}${end}`, line: order.line, id: order.id };
    }
    case "filled": {
      const { fill } = event;
      const what = fill.source === "order" ? `order ${fill.orderId}` : fill.source;
      return { text: `${what}: ${fill.side > 0 ? "bought" : "sold"} ${fill.quantity} at ${fill.price}`, line: fill.line, id: fill.orderId };
    }
    case "opened": {
      const { lot } = event;
      return {
        text: `${lot.side > 0 ? "long" : "short"} ${lot.quantity} from ${lot.entryPrice}`,
        line: lot.order.line,
        id: lot.order.id,
      };
    }
    case "closed": {
      const { trade } = event;
      return { text: `trade ${trade.id} closed by ${trade.reason}, net ${trade.net.toFixed(2)}`, line: trade.exitLine, id: trade.id };
    }
  }
}
