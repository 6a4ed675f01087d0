/** What each order comes to on one path of a bar, on a copy of its book: two paths are compared (R4.4). */
import { Book } from "./book.ts";
import { type Lot, type Outcome, TRIGGER, type Trigger } from "./lots.ts";

/** What each root order comes to on the path from here, on a copy without a listener; the account stays as it is. */
export function outcomeOf(book: Book, open: number, high: number, low: number, close: number, first: "high" | "low"): Outcome {
  const { account } = book;
  const fork = new Book(book.instrument, account, null, true);
  const { cash, sequence, trades } = account;
  const outcome: Outcome = new Map();
  fork.rate = book.rate;
  fork.outcome = outcome;
  fork.barIndex = book.barIndex;
  fork.barRange = book.barRange;
  fork.timeMs = book.timeMs;
  fork.isLean = true;
  fork.inBar = true;
  const lotOf = new Map<Lot, Lot>();
  for (const lot of book.lots) {
    const copy: Lot = {
      ...lot,
      rails: [],
      stop: null,
      target: null,
      arm: null,
      arms: lot.arms.slice(),
      trail: lot.trail ? { ...lot.trail } : null,
    };
    lotOf.set(lot, copy);
    fork.lots.push(copy);
  }
  for (const trigger of book.triggers.list) {
    const lot = trigger.lot ? lotOf.get(trigger.lot)! : null;
    const copy: Trigger = { ...trigger, lot, order: lot ? lot.order : { ...trigger.order } };
    fork.triggers.add(copy);
    if (!lot) continue;
    if (copy.role === TRIGGER.stop) lot.stop = copy;
    else if (copy.role === TRIGGER.target) lot.target = copy;
    else lot.arm = copy;
  }
  fork.recount();
  fork.triggers.quoteLike(book.triggers);
  fork.pathPrice = open;
  fork.alongPath(open, high, low, close, first);
  for (const lot of fork.lots) fork.report(lot.order.id, "", lot.side * (close - lot.entryPrice) * lot.quantity * book.pointMoney);
  account.cash = cash;
  account.sequence = sequence;
  account.trades = trades;
  return outcome;
}
