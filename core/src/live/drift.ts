/**
 * What a watch did against the backtest of the same bars: trade by trade, each difference with its cause and its money. With a
 * venue that neither fails nor lags, and nobody's hand in it, nothing differs (R8.2).
 */
import type { Trade } from "../engine/orders.ts";

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
  const explained = items.map((item, k) => ({ ...item, cause: causeOf(item, items.slice(0, k), marks, barMs) }));
  const causes = DRIFT_CAUSES.flatMap((cause) => {
    const of = explained.filter((item) => item.cause === cause);
    return of.length > 0 ? [{ cause, count: of.length, money: sum(of) }] : [];
  });
  return { matched, items: explained, causes, money: sum(explained) };
}

const sum = (items: readonly DriftItem[]): number => items.reduce((total, { money }) => total + money, 0);
const timeOf = ({ watch, backtest }: DriftItem): number => Math.min(watch?.entryTime ?? Infinity, backtest?.entryTime ?? Infinity);

/** Trades of one signal: the same instrument, side and tag, entered at nearly one time; parts of a lot in the order of their exits. */
function pairs(watch: readonly DriftLeg[], backtest: readonly DriftLeg[], barMs: number): (readonly [DriftLeg | null, DriftLeg | null])[] {
  const left = [...backtest];
  const partners = new Map<DriftLeg, DriftLeg>();
  // Those of the very same time first: on short bars neighbours are within reach of one another.
  for (const reachMs of [0, barMs])
    for (const ours of watch) {
      if (partners.has(ours)) continue;
      const at = left.findIndex(
        ({ symbol, side, entryTag, entryTime }) =>
          symbol === ours.symbol && side === ours.side && entryTag === ours.entryTag && Math.abs(entryTime - ours.entryTime) <= reachMs,
      );
      if (at >= 0) partners.set(ours, left.splice(at, 1)[0]!);
    }
  return [...watch.map((ours) => [ours, partners.get(ours) ?? null] as const), ...left.map((theirs) => [null, theirs] as const)];
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

/**
 * The mark closest to where the difference began, from two bars ahead of it to two bars after the trade; else an earlier
 * difference that it follows from; else what lasts. A version is another one for all that was before it: the backtest runs the last.
 */
function causeOf(item: DriftItem, earlier: readonly DriftItem[], marks: readonly DriftMark[], barMs: number): DriftCause {
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
  const near = marks
    .filter(({ cause, timeMs }) => !LASTING.has(cause) && timeMs >= beganMs - 2 * barMs && timeMs <= endMs + 2 * barMs)
    .sort((a, b) => Math.abs(a.timeMs - beganMs) - Math.abs(b.timeMs - beganMs));
  if (near[0]) return near[0].cause;
  if (watch && backtest && watch.quantity < backtest.quantity && watch.entryTime === backtest.entryTime) return "partly filled";
  if (watch && backtest && watch.exitTime === backtest.exitTime && watch.reason === backtest.reason) return "fill price";
  if (marks.some(({ cause, timeMs }) => cause === "other version" && timeMs > entryMs)) return "other version";
  if (earlier.some((other) => isHeldAt(other, entryMs))) return "earlier difference";
  if (marks.some(({ cause, timeMs }) => cause === "restart" && timeMs <= beganMs)) return "restart";
  return earlier.length > 0 && !sameEntry ? "earlier difference" : "not explained";
}

/** Whether either side held its trade at a time: the other may then have had a reason not to enter. */
const isHeldAt = ({ watch, backtest }: DriftItem, ms: number): boolean =>
  [watch, backtest].some((leg) => leg !== null && leg.entryTime <= ms && (leg.exitTime ?? Infinity) >= ms);

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
