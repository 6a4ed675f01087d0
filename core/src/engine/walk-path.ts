/** One bar through a book along its assumed path, with the path-dependent mark of its lots (R4.1, R4.4). */
import type { Book } from "./book.ts";
import type { Outcome } from "./lots.ts";
import { firstExtreme } from "./path.ts";
import { outcomeOf } from "./path-fork.ts";
import { LEGS } from "./path-walker.ts";

/** The open point, then the assumed path. For books that live without a series. */
export function walkBar(book: Book, open: number, high: number, low: number, close: number): void {
  book.fillAtOpen(open, high - low);
  walkPath(book, open, high, low, close);
}

/** From the open point along the assumed path. Where two things could happen inside the bar, both orders of its extremes are compared. */
export function walkPath(book: Book, open: number, high: number, low: number, close: number): void {
  const { triggers, state } = book;
  state.inBar = true;
  if (high < triggers.upLevel && low > triggers.downLevel && book.onPrice === null) {
    state.touch(low, high);
    state.pathPrice = close;
    return;
  }
  compareOrders(book, open, high, low, close);
  book.alongPath(open, high, low, close, firstExtreme(open, high, low, close));
  noteDependent(book);
}

/** The same leg by leg, 0 to 2, with time between them. */
export function walkLeg(book: Book, leg: number, open: number, high: number, low: number, close: number): void {
  if (leg === 0) {
    book.state.inBar = true;
    compareOrders(book, open, high, low, close);
  }
  book.alongLeg(leg, open, high, low, close, firstExtreme(open, high, low, close));
  if (leg === LEGS - 1) noteDependent(book);
}

function compareOrders({ state, triggers }: Book, open: number, high: number, low: number, close: number): void {
  if (triggers.eventsWithin(low, high) < 2) return;
  const upFirst = outcomeOf(state, open, high, low, close, "high");
  state.dependent = differences(upFirst, outcomeOf(state, open, high, low, close, "low"));
}

function noteDependent({ state }: Book): void {
  if (!state.dependent) return;
  for (const lot of state.lots) {
    const stake = state.dependent.get(lot.order.id);
    if (stake === undefined) continue;
    lot.pathDependent = true;
    lot.atStake = Math.max(lot.atStake, stake);
  }
  state.dependent = null;
}

/** Orders that come to different ends, with the money between them; null where there are none. */
function differences(a: Outcome, b: Outcome): Map<number, number> | null {
  let found: Map<number, number> | null = null;
  for (const root of new Set([...a.keys(), ...b.keys()])) {
    const [one, other] = [a.get(root), b.get(root)];
    if (one?.trail === other?.trail) continue;
    found ??= new Map();
    found.set(root, Math.abs((one?.money ?? 0) - (other?.money ?? 0)));
  }
  return found;
}
