/**
 * What a watch did against the backtest of the same bars: trade by trade, each difference with its cause and its money. With a
 * venue that neither fails nor lags, and nobody's hand in it, nothing differs (R8.2).
 */
import type { Trade } from "../engine/orders.ts";
import { lowerBound } from "../market/bars.ts";

export const DRIFT_CAUSES = [
  "fill price",
  "partly filled",
  "lag",
  "refused",
  "prompt",
  "by hand",
  "policy",
  "connection",
  "restart",
  "other version",
  "paused",
  "alerts only",
  "earlier difference",
  "not explained",
] as const;
export type DriftCause = (typeof DRIFT_CAUSES)[number];

/** What can't be seen from trades. */
type MarkedCause = Exclude<DriftCause, "fill price" | "partly filled" | "earlier difference" | "not explained">;

/** Something on the watch's journal that explains what differs after it, or around it. */
export interface DriftMark {
  readonly timeMs: number;
  readonly cause: MarkedCause;
}

/** One side's part of a trade; what is still open has no exit time and the last price. */
export type DriftLeg = Pick<Trade, "symbol" | "side" | "quantity" | "entryTime" | "entryPrice" | "exitPrice" | "net"> & {
  readonly entryTag: string;
  readonly exitTime: number | null;
  readonly reason: string;
};

export interface DriftItem {
  /** null: only the other side traded. */
  readonly watch: DriftLeg | null;
  readonly backtest: DriftLeg | null;
  readonly cause: DriftCause;
  /** What differs: "entry 412.50 for 412.25", "only in the backtest". */
  readonly what: string;
  /** Net of the watch less that of the backtest. */
  readonly money: number;
}

export interface Drift {
  /** Trades on both sides without a difference. */
  readonly matched: number;
  readonly items: readonly DriftItem[];
  readonly causes: readonly { readonly cause: DriftCause; readonly count: number; readonly money: number }[];
  readonly money: number;
}

export interface DriftFacts {
  readonly watch: readonly DriftLeg[];
  readonly backtest: readonly DriftLeg[];
  readonly marks: readonly DriftMark[];
  /** Length of a bar, milliseconds: entries within it are of one signal. */
  readonly barMs: number;
}

export function driftOf({ watch, backtest, marks, barMs }: DriftFacts): Drift {
  const items: DriftItem[] = [];
  let matched = 0;
  for (const [ours, theirs] of pairs(watch, backtest, barMs)) {
    const what = differences(ours, theirs);
    if (what === "") matched++;
    else items.push({ watch: ours, backtest: theirs, what, money: (ours?.net ?? 0) - (theirs?.net ?? 0), cause: "not explained" });
  }
  items.sort((a, b) => timeOf(a) - timeOf(b));
  const journal = new Marks(marks);
  // Until when something of the differences before was held by either side; null before the first.
  let heldUntilMs: number | null = null;
  const explained: DriftItem[] = [];
  for (const item of items) {
    explained.push({ ...item, cause: causeOf(item, heldUntilMs, journal, barMs) });
    heldUntilMs = Math.max(heldUntilMs ?? -Infinity, lastOf(item));
  }
  const causes = DRIFT_CAUSES.flatMap((cause) => {
    const of = explained.filter((item) => item.cause === cause);
    return of.length > 0 ? [{ cause, count: of.length, money: sum(of) }] : [];
  });
  return { matched, items: explained, causes, money: sum(explained) };
}

const sum = (items: readonly DriftItem[]): number => items.reduce((total, { money }) => total + money, 0);
const timeOf = ({ watch, backtest }: DriftItem): number => Math.min(watch?.entryTime ?? Infinity, backtest?.entryTime ?? Infinity);
/** When neither side holds it any more. */
const lastOf = ({ watch, backtest }: DriftItem): number =>
  Math.max(...[watch, backtest].map((leg) => (leg ? (leg.exitTime ?? Infinity) : -Infinity)));

/** Trades of one signal: the same instrument, side and tag, entered at nearly one time; parts of a lot in the order of their exits. */
function pairs(watch: readonly DriftLeg[], backtest: readonly DriftLeg[], barMs: number): (readonly [DriftLeg | null, DriftLeg | null])[] {
  const left = new Set(backtest);
  const theirs = new Map([...bySignal(backtest)].map(([signal, legs]) => [signal, inOrder(legs)]));
  const partners = new Map<DriftLeg, DriftLeg>();
  // Those of the very same time first: on short bars neighbours are within reach of one another.
  for (const reachMs of [0, barMs])
    for (const [signal, legs] of bySignal(watch)) {
      const candidates = theirs.get(signal);
      for (const ours of candidates ? legs : []) {
        const partner = partners.has(ours) ? undefined : firstWithin(candidates!, ours.entryTime, reachMs, left);
        if (!partner) continue;
        partners.set(ours, partner);
        left.delete(partner);
      }
    }
  return [...watch.map((ours) => [ours, partners.get(ours) ?? null] as const), ...[...left].map((one) => [null, one] as const)];
}

function bySignal(legs: readonly DriftLeg[]): Map<string, DriftLeg[]> {
  const groups = new Map<string, DriftLeg[]>();
  for (const leg of legs) {
    const signal = `${leg.symbol} ${leg.side} ${leg.entryTag}`;
    const group = groups.get(signal);
    if (group) group.push(leg);
    else groups.set(signal, [leg]);
  }
  return groups;
}

/** Legs in the order of their entries. */
interface InOrder {
  readonly legs: readonly DriftLeg[];
  readonly times: Float64Array;
}

function inOrder(given: readonly DriftLeg[]): InOrder {
  const legs = given.toSorted((a, b) => a.entryTime - b.entryTime);
  return { legs, times: Float64Array.from(legs, ({ entryTime }) => entryTime) };
}

function firstWithin({ legs, times }: InOrder, ms: number, reachMs: number, left: ReadonlySet<DriftLeg>): DriftLeg | undefined {
  for (let k = lowerBound(times, ms - reachMs); k < legs.length && times[k]! <= ms + reachMs; k++) if (left.has(legs[k]!)) return legs[k];
  return undefined;
}

/** Less than this is noise of adding up. */
const LEAST_MONEY = 1e-6;

/** In words; "" where nothing differs. */
function differences(ours: DriftLeg | null, theirs: DriftLeg | null): string {
  if (!ours) return "only in the backtest";
  if (!theirs) return "only on the watch";
  const words: string[] = [];
  if (ours.quantity !== theirs.quantity) words.push(`${ours.quantity} units for ${theirs.quantity}`);
  if (ours.entryPrice !== theirs.entryPrice) words.push(`entry at ${ours.entryPrice} for ${theirs.entryPrice}`);
  else if (ours.entryTime !== theirs.entryTime) words.push("entered at another time");
  if (ours.exitTime === null && theirs.exitTime !== null) words.push(`still open; the backtest closed by ${theirs.reason}`);
  else if (ours.exitTime !== null && theirs.exitTime === null) words.push(`closed by ${ours.reason}; open in the backtest`);
  else if (ours.exitTime !== theirs.exitTime || ours.reason !== theirs.reason)
    words.push(
      ours.reason === theirs.reason
        ? `closed by ${ours.reason} at another time`
        : `closed by ${ours.reason} for ${theirs.reason}${ours.exitTime === theirs.exitTime ? "" : ", at another time"}`,
    );
  // The last price of what is open is no difference of its own.
  else if (ours.exitTime !== null && ours.exitPrice !== theirs.exitPrice) words.push(`exit at ${ours.exitPrice} for ${theirs.exitPrice}`);
  // Prices are the same, costs are not.
  if (words.length === 0 && ours.exitTime !== null && Math.abs(ours.net - theirs.net) > LEAST_MONEY)
    words.push(`net ${ours.net.toFixed(2)} for ${theirs.net.toFixed(2)}`);
  return words.join("; ");
}

/** Causes that hold for all that comes after them. */
const LASTING: ReadonlySet<MarkedCause> = new Set(["other version", "restart"]);

/** The marks of a journal, found by their times. */
class Marks {
  readonly #passing: readonly DriftMark[];
  readonly #times: Float64Array;
  readonly #lastVersionMs: number;
  readonly #firstRestartMs: number;

  constructor(marks: readonly DriftMark[]) {
    this.#passing = marks.filter(({ cause }) => !LASTING.has(cause)).sort((a, b) => a.timeMs - b.timeMs);
    this.#times = Float64Array.from(this.#passing, ({ timeMs }) => timeMs);
    const timesOf = (wanted: MarkedCause): number[] => marks.filter(({ cause }) => cause === wanted).map(({ timeMs }) => timeMs);
    this.#lastVersionMs = timesOf("other version").reduce((last, ms) => Math.max(last, ms), -Infinity);
    this.#firstRestartMs = timesOf("restart").reduce((first, ms) => Math.min(first, ms), Infinity);
  }

  /** The closest to a time of those in a span around it, that does not last. */
  closest(ms: number, fromMs: number, toMs: number): MarkedCause | null {
    const at = lowerBound(this.#times, ms);
    const [before, after] = [this.#passing[at - 1], this.#passing[at]];
    const beforeMs = before && before.timeMs >= fromMs ? ms - before.timeMs : Infinity;
    const afterMs = after && after.timeMs <= toMs ? after.timeMs - ms : Infinity;
    if (beforeMs === Infinity && afterMs === Infinity) return null;
    return (beforeMs <= afterMs ? before : after)!.cause;
  }

  /** A version is another one for all that was before it: the backtest runs the last. */
  isOfOtherVersion(ms: number): boolean {
    return ms < this.#lastVersionMs;
  }

  isAfterRestart(ms: number): boolean {
    return ms >= this.#firstRestartMs;
  }
}

/**
 * The mark closest to where the difference began, from two bars ahead of it to two bars after the trade; else an earlier
 * difference that it follows from; else what lasts.
 * @param heldUntilMs when nothing of the differences before was held any more: while it was, the other side may have had a
 * reason not to enter. null where there is none before
 */
function causeOf(item: DriftItem, heldUntilMs: number | null, marks: Marks, barMs: number): DriftCause {
  const { watch, backtest } = item;
  const entryMs = timeOf(item);
  const sameEntry =
    watch !== null &&
    backtest !== null &&
    watch.entryTime === backtest.entryTime &&
    watch.entryPrice === backtest.entryPrice &&
    watch.quantity === backtest.quantity;
  const exits = [watch?.exitTime ?? Infinity, backtest?.exitTime ?? Infinity];
  // Where the entry is the same the exit made the difference, and the earlier of the two shows where.
  const beganMs = sameEntry ? Math.min(...exits) : entryMs;
  // What was noticed while the trade lasted counts, too: a report that is missing is missed with the next.
  const endMs = Math.max(beganMs, ...exits.filter(Number.isFinite));
  const near = marks.closest(beganMs, beganMs - 2 * barMs, endMs + 2 * barMs);
  if (near) return near;
  if (watch && backtest && watch.quantity < backtest.quantity && watch.entryTime === backtest.entryTime) return "partly filled";
  if (watch && backtest && watch.exitTime === backtest.exitTime && watch.reason === backtest.reason) return "fill price";
  if (marks.isOfOtherVersion(entryMs)) return "other version";
  if (heldUntilMs !== null && heldUntilMs >= entryMs) return "earlier difference";
  if (marks.isAfterRestart(beganMs)) return "restart";
  return heldUntilMs !== null && !sameEntry ? "earlier difference" : "not explained";
}

/** Legs as they stood at a time: what was entered at or after it is left out, what was closed then is open still. */
export const legsAt = (legs: readonly DriftLeg[], ms: number): DriftLeg[] =>
  legs
    .filter(({ entryTime }) => entryTime < ms)
    .map((leg) => (leg.exitTime !== null && leg.exitTime >= ms ? { ...leg, exitTime: null, reason: "" } : leg));

/** A trade as a leg; `isOpen` where it only closed because the bars were over. */
export const legOf = (trade: Trade, isOpen = false): DriftLeg => {
  const { symbol, side, quantity, entryTime, entryPrice, entryTag, exitTime, exitPrice, reason, net } = trade;
  return {
    symbol,
    side,
    quantity,
    entryTime,
    entryPrice,
    entryTag,
    exitPrice,
    net,
    exitTime: isOpen ? null : exitTime,
    reason: isOpen ? "" : reason,
  };
};
