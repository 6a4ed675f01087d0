/**
 * A fork of a book: a copy without a listener that walks one path of a bar and says what each order came to, while the book
 * and its account stay as they are. Two of them are compared (R4.4).
 */
import { partsOf } from "./book.ts";
import { BookState } from "./book-state.ts";
import { type Lot, type Outcome, TRIGGER, type Trigger } from "./lots.ts";

/** A state of its own with copies of the lots and of what stands at a price. */
function copyOf(book: BookState): BookState {
  const fork = new BookState(book.instrument, book.account, null);
  fork.rate = book.rate;
  fork.outcome = new Map();
  fork.barIndex = book.barIndex;
  fork.barRange = book.barRange;
  fork.timeMs = book.timeMs;
  fork.isLean = true;
  fork.inBar = true;
  const copies = new Map<Lot, Lot>();
  for (const lot of book.lots) {
    const copy: Lot = {
      ...lot,
      rails: [],
      stop: null,
      target: null,
      moveTrigger: null,
      pendingMoves: lot.pendingMoves.slice(),
      trail: lot.trail ? { ...lot.trail } : null,
    };
    copies.set(lot, copy);
    fork.lots.push(copy);
  }
  for (const trigger of book.triggers.list) {
    const lot = trigger.lot ? copies.get(trigger.lot)! : null;
    const copy: Trigger = { ...trigger, lot, order: lot ? lot.order : { ...trigger.order } };
    fork.triggers.add(copy);
    if (!lot) continue;
    if (copy.role === TRIGGER.stop) lot.stop = copy;
    else if (copy.role === TRIGGER.target) lot.target = copy;
    else lot.moveTrigger = copy;
  }
  fork.triggers.quoteLike(book.triggers);
  return fork;
}

/** What each root order comes to on the path from here. */
export function outcomeOf(book: BookState, open: number, high: number, low: number, close: number, first: "high" | "low"): Outcome {
  const { account } = book;
  const { cash, sequence, trades } = account;
  const state = copyOf(book);
  // Two paths are compared as they are assumed, whichever way the run's own exits are decided; nothing is refused on them.
  const { ledger, walker } = partsOf(state, false, null);
  ledger.recount();
  state.pathPrice = open;
  walker.alongPath(open, high, low, close, first);
  for (const lot of state.lots) state.report(lot.order.id, "", lot.side * (close - lot.entryPrice) * lot.quantity * book.pointMoney);
  account.cash = cash;
  account.sequence = sequence;
  account.trades = trades;
  return state.outcome!;
}
