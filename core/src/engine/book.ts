/**
 * The book of one instrument on one account: working orders and open lots, and the rules by which a price path fills
 * them (R3 to R5). It knows nothing of plans or of bars as a series: a caller moves price through it.
 *
 *   beginBar -> fillAtOpen -> alongPath (one or more price paths) -> endBar -> mark at the close
 *
 *   BookState       what all parts share: now, triggers, lots, listener
 *   WorkingOrders   orders taken, changed, ended
 *   Ledger          fills, lots, trades, money
 *   LotExits        stops and targets of open lots, and what moves them
 *   PathWalker      price from trigger to trigger
 *
 * Price `x` below is always the path price; ask(x) and bid(x) are x shifted by the two parts of the spread.
 */
import type { Costs, Instrument } from "../market/instrument.ts";
import type { Account, AccountBook } from "./account.ts";
import { LIMIT_NAMES, type LimitHit } from "./account-limits.ts";
import { BookState } from "./book-state.ts";
import { Ledger } from "./ledger.ts";
import { LotExits } from "./lot-exits.ts";
import type { BookCounts, BookListener, BookPlace, BookSnapshot, Lot, LotSnapshot } from "./lots.ts";
import { type Order, type OrderRequest, PLAIN_ORDER, type Side } from "./orders.ts";
import { PathWalker, type Refusal } from "./path-walker.ts";
import type { EngineSettings } from "./settings.ts";
import type { TradeTotals } from "./trade-totals.ts";
import type { Triggers } from "./triggers.ts";
import { WorkingOrders } from "./working-orders.ts";

/** How whoever moves several books on one clock is asked and told. */
export interface SharedClock {
  /** The last known close of the instrument. */
  readonly markOf: () => number;
  /** The first bar on which an order that is sent now can fill. */
  readonly firstFillBar: () => number;
  /** Orders or exits are about to change. */
  readonly onTouched: () => void;
}

export interface BookParts {
  readonly orders: WorkingOrders;
  readonly ledger: Ledger;
  readonly walker: PathWalker;
  readonly exits: LotExits;
}

/** The parts of a book on one state. @param refusal asked before an order opens anything; null where nothing is refused. */
export function partsOf(state: BookState, isAdverse: boolean, refusal: Refusal | null): BookParts {
  const exits = new LotExits(state, isAdverse);
  const orders = new WorkingOrders(state);
  const ledger = new Ledger(state, orders, exits);
  return { orders, ledger, exits, walker: new PathWalker({ state, orders, ledger, exits, isAdverse, refusal }) };
}

export class Book implements AccountBook {
  readonly state: BookState;
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  readonly costs: Costs;
  readonly account: Account;
  readonly lots: readonly Lot[];
  readonly triggers: Triggers;
  readonly counts: BookCounts;
  readonly waiting: readonly Order[];
  /** Market orders that wait for the session's close (R2.6). */
  readonly closing: readonly Order[];
  readonly #orders: WorkingOrders;
  readonly #ledger: Ledger;
  readonly #exits: LotExits;
  readonly #walker: PathWalker;
  #clock: SharedClock | null = null;
  #mark = Number.NaN;

  /** @param isLean keeps no history of exit levels: for runs of which nobody looks at a single trade. */
  constructor(instrument: Instrument, account: Account, listener: BookListener | null, isLean = false) {
    const { settings } = account;
    const state = new BookState(instrument, account, listener);
    state.isLean = isLean;
    state.triggers.beforeLevels = () => account.watchRuin();
    const mayRefuse = settings.margin !== null || settings.maxPositions !== null;
    const { orders, ledger, exits, walker } = partsOf(
      state,
      settings.path === "adverse",
      mayRefuse ? (order, closing, opening, price) => account.refusal(this, order, closing, opening, price) : null,
    );
    this.state = state;
    this.instrument = instrument;
    this.settings = settings;
    this.costs = state.costs;
    this.account = account;
    this.lots = state.lots;
    this.triggers = state.triggers;
    this.counts = state.counts;
    this.waiting = orders.waiting;
    this.closing = orders.closing;
    this.#orders = orders;
    this.#ledger = ledger;
    this.#exits = exits;
    this.#walker = walker;
    account.books.push(this);
  }

  // --- who is told --------------------------------------------------------------------------------------------

  listen(listener: BookListener): void {
    this.state.listener = listener;
  }

  /** Takes the sums of trades in place of trades. */
  keepSums(totals: TradeTotals): void {
    this.state.totals = totals;
  }

  /** Several books on one clock. */
  share(clock: SharedClock): void {
    this.#clock = clock;
    this.state.onTouched = clock.onTouched;
    this.triggers.beforeLevels = null;
  }

  /** Somebody acts inside the bar: told at the open and at each turning point of the path, from where new orders work at once (R2.4). */
  get onPrice(): ((x: number) => void) | null {
    return this.#walker.onPrice;
  }

  set onPrice(act: ((x: number) => void) | null) {
    this.#walker.onPrice = act;
  }

  /** Makes up for bars that were crossed without looking at the extremes of open lots. */
  settleExtremes(): void {
    this.state.settleQuiet?.();
  }

  /** The first bar on which an order that is sent now can fill; null where it is the one after the last completed bar. */
  firstFillBar(): number | null {
    return this.#clock?.firstFillBar() ?? null;
  }

  // --- now ----------------------------------------------------------------------------------------------------

  get barIndex(): number {
    return this.state.barIndex;
  }

  set barIndex(barIndex: number) {
    this.state.barIndex = barIndex;
  }

  get timeMs(): number {
    return this.state.timeMs;
  }

  set timeMs(timeMs: number) {
    this.state.timeMs = timeMs;
  }

  get inBar(): boolean {
    return this.state.inBar;
  }

  /** At the close of a bar. */
  standAtClose(barIndex: number, closeTimes: Float64Array): void {
    this.state.standAtClose(barIndex, closeTimes);
  }

  /** The last known close. */
  get mark(): number {
    return this.#clock ? this.#clock.markOf() : this.#mark;
  }

  set mark(price: number) {
    this.#mark = price;
  }

  /** Account currency for one unit of the instrument's currency. */
  get rate(): number {
    return this.state.rate;
  }

  set rate(rate: number) {
    this.state.rate = rate;
  }

  /** Sets the spread in price units from here on (R1.4). */
  setSpread(spread: number): void {
    this.triggers.setSpread(spread);
  }

  // --- what it is worth ---------------------------------------------------------------------------------------

  get idle(): boolean {
    return this.lots.length === 0 && this.#orders.isEmpty;
  }

  get units(): number {
    return this.state.units;
  }

  get basisMoney(): number {
    return this.state.basisMoney;
  }

  get grossUnits(): number {
    return this.state.grossUnits;
  }

  get pointMoney(): number {
    return this.state.pointMoney;
  }

  /** Price of this moment: along the path inside a bar, else the last close. */
  get priceNow(): number {
    return this.state.inBar ? this.state.pathPrice : this.mark;
  }

  /** Open profit with lots marked at a path price (R5.3), account currency. */
  profitAt(price: number): number {
    const { state } = this;
    return state.units === 0 && state.basisMoney === 0 ? 0 : (state.units * price - state.basisMoney) * state.pointMoney;
  }

  /** Equity at a price, where the account holds nothing else: the same sum as over quiet bars, to the last bit (R5.3). */
  aloneAt(price: number): number {
    return this.account.cash - this.basisMoney * this.pointMoney + this.units * this.pointMoney * price;
  }

  /** Margin of some units at a price (R5.5). */
  marginOf(quantity: number, price: number): number {
    const { margin } = this.settings;
    if (!margin) return 0;
    return margin.by === "unit" ? quantity * margin.value : (quantity * Math.abs(price) * this.pointMoney) / margin.value;
  }

  // --- orders and exits ---------------------------------------------------------------------------------------

  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order {
    return this.#orders.submit(request, expiresBar, expiresTime);
  }

  cancel(order: Order, note = "cancelled by the plan", state: "cancelled" | "expired" = "cancelled"): boolean {
    return this.#orders.cancel(order, note, state);
  }

  modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    return this.#orders.modify(order, price, quantity, limitPrice);
  }

  /** Orders that wait or work, in order of submission. */
  workingOrders(): Order[] {
    return this.#orders.list();
  }

  /** UTC milliseconds from which something that works at a price, or waits for the close, is over. */
  get expiryTime(): number {
    let time = this.triggers.dueTime;
    for (let k = 0; k < this.closing.length; k++) time = Math.min(time, this.closing[k]!.expiresTime);
    return time;
  }

  expire(barIndex: number, timeMs: number): void {
    this.#orders.expire(barIndex, timeMs);
  }

  /** Sets the stop or target level of a lot; null takes it away. A stop only tightens unless `mayLoosen`. */
  setExit(lot: Lot, which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    this.state.onTouched?.();
    if (this.#orders.mustWait(null)) {
      this.#orders.later(() => {
        if (this.lots.includes(lot)) this.setExit(lot, which, price, mayLoosen);
      });
      return true;
    }
    return this.#exits.set(lot, which, price, mayLoosen);
  }

  /** The same for every open lot of an owner; true when any changed. */
  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean, owner = ""): boolean {
    let changed = false;
    for (const lot of [...this.lots]) if (lot.order.owner === owner) changed = this.setExit(lot, which, price, mayLoosen) || changed;
    return changed;
  }

  /** The bar that is open lies partly in the past: what is asked for works from the next open (R2.4). */
  sleep(): void {
    this.#orders.isAsleep = true;
  }

  /** Orders that were asked for while it slept. */
  get asleepOrders(): readonly Order[] {
    return this.#orders.asleep;
  }

  get isAsleep(): boolean {
    return this.#orders.isAsleep;
  }

  /** A path is walked: what it makes others ask for works at once. */
  stir(): void {
    this.#orders.isAsleep = false;
  }

  /** The next open has come: what was asked for while the book slept is done. */
  wake(): void {
    this.#orders.wake();
  }

  // --- price --------------------------------------------------------------------------------------------------

  fillAtOpen(x: number, range = 0): void {
    this.#walker.fillAtOpen(x, range);
  }

  alongPath(open: number, high: number, low: number, close: number, first: "high" | "low"): void {
    this.#walker.alongPath(open, high, low, close, first);
  }

  /** One leg of that path, 0 to 2. */
  alongLeg(leg: number, open: number, high: number, low: number, close: number, first: "high" | "low"): void {
    this.#walker.alongLeg(leg, open, high, low, close, first);
  }

  /** Fills what can fill where price stands, inside a bar. */
  settle(): void {
    this.#walker.settle();
  }

  fillAtSessionClose(x: number): void {
    this.#walker.fillAtSessionClose(x);
  }

  touch(low: number, high: number): void {
    this.state.touch(low, high);
  }

  /** Ends the bar: market orders from here on wait for the next open. */
  endBar(): void {
    this.state.inBar = false;
  }

  // --- what the account decides -------------------------------------------------------------------------------

  chargeNights(nights: number): void {
    this.#ledger.chargeNights(nights);
  }

  /** Equity is under the maintenance level: everything closes at the next open (R5.5). */
  callMargin(): void {
    this.#closeAllAtOpen("margin", "margin call");
  }

  #closeAllAtOpen(reason: "margin" | "ruin" | "account limit", tag: string): void {
    for (const { side: held, order: entry } of this.lots) {
      const { owner } = entry;
      const side = -held as Side;
      if (this.workingOrders().some((order) => order.reason === reason && order.side === side && order.owner === owner)) continue;
      const close = {
        ...PLAIN_ORDER,
        side,
        kind: "market",
        quantity: Number.POSITIVE_INFINITY,
        intent: "exit",
        tag,
        owner,
        reason,
      } as const;
      this.submit(close, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY);
    }
  }

  /** The account is wiped out: working orders are cancelled, and what is open closes at the next open (R5.6). */
  endAll(): void {
    for (const order of this.workingOrders()) this.cancel(order, "the account is wiped out (R5.6)");
    this.#closeAllAtOpen("ruin", "wiped out");
  }

  /** A limit of the account is hit (R5.8). */
  obey({ limit, act }: LimitHit): void {
    const name = LIMIT_NAMES[limit];
    for (const order of this.workingOrders()) if (order.intent !== "exit") this.cancel(order, `the account's ${name} is hit (R5.8)`);
    if (act !== "no entries") this.#closeAllAtOpen("account limit", name);
  }

  tellLimit(hit: LimitHit | null): void {
    const { listener } = this.state;
    if (hit) listener?.limited?.(hit);
    else listener?.obeyed?.();
  }

  /**
   * Sets the path price at which equity would be gone.
   * @param share what this position may lose of it, from the last close on; null where it is the only one.
   */
  watchRuin(share: number | null): void {
    const { triggers, units, basisMoney, pointMoney } = this;
    // Case: flat, as before.
    if (units === 0 && triggers.ruinUp === Number.POSITIVE_INFINITY && triggers.ruinDown === Number.NEGATIVE_INFINITY) return;
    triggers.ruinUp = Number.POSITIVE_INFINITY;
    triggers.ruinDown = Number.NEGATIVE_INFINITY;
    if (units !== 0) {
      const mark = Number.isFinite(this.mark) ? this.mark : basisMoney / units;
      const level =
        share === null ? (basisMoney * pointMoney - this.account.cash) / (units * pointMoney) : mark - share / (units * pointMoney);
      if (units > 0) triggers.ruinDown = level;
      else triggers.ruinUp = level;
    }
    this.state.onTouched?.();
    triggers.changed();
  }

  /** As sums are rounded, a close a hair's breadth within counts as well. */
  reachesRuin(close: number): boolean {
    if (this.units === 0) return false;
    const { ruinUp, ruinDown } = this.triggers;
    const hair = 1e-9 * Math.abs(close);
    return close >= ruinUp - hair || close <= ruinDown + hair;
  }

  /** Marks open positions out at a price without costs (R5.6). */
  markOut(price: number): void {
    this.#ledger.markOut(price);
  }

  // --- keeping an account over a restart ----------------------------------------------------------------------

  /** Everything of the account that `restore` needs, as plain structured-clone data. */
  snapshot(): BookSnapshot {
    return {
      cash: this.account.cash,
      sequence: this.account.sequence,
      counts: { ...this.counts },
      lots: this.lots.map(({ stop, target, moveTrigger: _moveTrigger, ...lot }) => ({
        ...lot,
        stopPrice: stop?.price ?? null,
        targetPrice: target?.price ?? null,
      })),
      orders: this.workingOrders(),
      place: this.#place(),
    };
  }

  #place(): BookPlace {
    const { barIndex, timeMs, barRange, inBar, pathPrice, dependent } = this.state;
    const { spread } = this.triggers;
    const { isAsleep, asleep } = this.#orders;
    return { barIndex, timeMs, barRange, spread, inBar, pathPrice, isAsleep, asleep: asleep.map(({ id }) => id), dependent };
  }

  /** For a book on which nothing has happened. */
  restore(snapshot: BookSnapshot): void {
    this.account.cash = snapshot.cash;
    this.account.sequence = snapshot.sequence;
    // Each book has a part of the account's trades.
    this.account.trades += snapshot.counts.trades;
    Object.assign(this.counts, snapshot.counts);
    const { orders, place } = snapshot;
    this.take(snapshot.lots, orders, place ? orders.filter(({ id }) => place.asleep.includes(id)) : []);
    if (!place) return;
    const { barIndex, timeMs, barRange, inBar, pathPrice, dependent } = place;
    Object.assign(this.state, { barIndex, timeMs, barRange, inBar, pathPrice, dependent: dependent && new Map(dependent) });
    this.setSpread(place.spread);
    if (place.isAsleep) this.sleep();
  }

  /** These lots are open and these orders work, in place of what was. @param asleep those sent while the book sleeps */
  take(lots: readonly LotSnapshot[], orders: readonly Order[], asleep: readonly Order[] = []): void {
    for (const lot of this.state.lots) this.#exits.detachAll(lot);
    this.state.lots.length = 0;
    for (const { stopPrice, targetPrice, ...plain } of lots) {
      const lot: Lot = { ...plain, stop: null, target: null, moveTrigger: null };
      this.state.lots.push(lot);
      if (stopPrice !== null) this.#exits.attach(lot, "stop", stopPrice);
      if (targetPrice !== null) this.#exits.attach(lot, "target", targetPrice);
      if (lot.pendingMoves.length > 0) this.#exits.watchNextMove(lot);
    }
    this.#orders.restore(orders, asleep);
    this.#ledger.recount();
    this.triggers.changed();
  }
}
