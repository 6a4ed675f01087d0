/**
 * One plan at work on the practice venue. The plan runs in a process of its own; its orders go to the venue; what the
 * venue reports goes back to the plan. State is what the venue's account says, so it is right after a restart too.
 */
import { engineSettings, type RunSettings, type WatchEvent, type WatchSummary } from "@plan-tester/contract";
import type { Fill, InputValues, Instrument, Order, OrderTicket, Trade } from "@plan-tester/core";
import { type FromChild, type LiveCommand, nextTaskId, PlanProcess, type ToChild } from "@plan-tester/runner";
import type { AccountReport, VenueBar, VenueMessage } from "@plan-tester/venue";
import type { LiveBars } from "./live-bars.ts";
import type { VenueClient } from "./venue-client.ts";

export interface WatchFacts {
  readonly id: string;
  readonly planId: string;
  readonly planTitle: string;
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
  readonly createdMs: number;
}

/** What a watch tells its listener. */
export interface WatchListener {
  happened(watch: Watch, events: readonly Omit<WatchEvent, "id">[]): void;
  traded(watch: Watch): void;
  ended(watch: Watch, reason: string): void;
}

export class Watch {
  readonly facts: WatchFacts;
  readonly trades: Trade[];
  account: AccountReport;
  lastTimeMs: number | null = null;
  ended = "";
  readonly #instrument: Instrument;
  readonly #venue: VenueClient;
  readonly #bars: LiveBars;
  readonly #listener: WatchListener;
  readonly #process = new PlanProcess();
  readonly #task = nextTaskId();
  /** What the plan has not been told yet: it hears one thing at a time, and its orders reach the venue before the next. */
  readonly #inbox: ToChild[] = [];
  #isAnswering = false;
  /** Market orders that the venue has and has not filled yet. */
  readonly #unfilled = new Set<number>();

  constructor(
    facts: WatchFacts,
    instrument: Instrument,
    account: AccountReport,
    trades: readonly Trade[],
    bars: LiveBars,
    venue: VenueClient,
    listener: WatchListener,
  ) {
    this.facts = facts;
    this.account = account;
    this.trades = [...trades];
    this.#instrument = instrument;
    this.#bars = bars;
    this.#venue = venue;
    this.#listener = listener;
    this.#process.listen(
      (message) => this.#fromPlan(message),
      (reason) => this.end(`the plan was stopped: ${reason}`),
    );
    const { cash, lots, orders } = account;
    this.#tell({
      type: "live-start",
      id: this.#task,
      source: facts.source,
      inputs: facts.inputs,
      instrument,
      settings: engineSettings(facts.settings, [instrument]),
      series: bars.series,
      account: { cash, lots, orders: orders.map(revived) },
    });
  }

  get state(): WatchSummary["state"] {
    if (this.ended) return "ended";
    return this.account.lots.length > 0 ? "in position" : "armed";
  }

  // --- from the venue -----------------------------------------------------------------------------------------

  bar(bar: VenueBar): void {
    if (this.ended) return;
    this.lastTimeMs = bar.time + 60_000;
    this.account = { ...this.account, lastPrice: bar.close, equity: this.#equityAt(bar.close) };
    const completed = this.#bars.add(bar);
    this.#tell(
      completed ? { type: "live-bar", id: this.#task, series: completed } : { type: "live-clock", id: this.#task, timeMs: this.lastTimeMs },
    );
  }

  #equityAt(price: number): number {
    const { cash, lots } = this.account;
    return cash + lots.reduce((sum, lot) => sum + lot.side * lot.quantity * (price - lot.entryPrice), 0) * this.#instrument.pointValue;
  }

  report({ account, fills, trades, ended }: Extract<VenueMessage, { type: "account" }>): void {
    if (this.ended) return;
    const before = this.state;
    this.account = account;
    const working = new Set(account.orders.map(({ id }) => id));
    for (const id of this.#unfilled) if (!working.has(id)) this.#unfilled.delete(id);
    this.trades.push(...trades);
    const orders = ended.map(revived);
    this.#tell({
      type: "live-account",
      id: this.#task,
      account: { cash: account.cash, lots: account.lots, orders: account.orders.map(revived) },
      fills,
      trades,
      ended: orders,
    });
    const now = this.lastTimeMs ?? Date.now();
    const events: Omit<WatchEvent, "id">[] = [
      ...orders
        .filter((order) => order.state !== "cancelled")
        .map((order) => ({ timeMs: now, kind: "order" as const, text: `order ${order.id} ${order.state}: ${order.note}` })),
      ...fills.map((fill) => ({ timeMs: fill.timeMs, kind: "fill" as const, text: fillText(fill, this.#instrument) })),
      ...trades.map((trade) => ({
        timeMs: trade.exitTime,
        kind: "trade" as const,
        text: `${trade.side > 0 ? "long" : "short"} ${trade.quantity} closed by ${trade.reason}: ${trade.net.toFixed(2)} ${this.#instrument.currency}`,
      })),
    ];
    if (this.state !== before) events.push({ timeMs: now, kind: "state", text: this.state });
    if (events.length > 0) this.#listener.happened(this, events);
    if (trades.length > 0) this.#listener.traded(this);
  }

  #tell(message: ToChild): void {
    this.#inbox.push(message);
    this.#next();
  }

  /**
   * A market order sent at one close is filled before the next, in a backtest and so here too: while one is under way
   * the plan hears of no further bar, and what happened on its account goes ahead of bars that still wait. Without that
   * a plan that is late would enter twice.
   */
  #next(): void {
    if (this.#isAnswering || this.ended) return;
    const news = this.#inbox.findIndex(({ type }) => type === "live-account");
    const at = news >= 0 ? news : this.#unfilled.size === 0 ? 0 : this.#inbox.findIndex(({ type }) => type !== "live-bar");
    const [message] = at < 0 ? [] : this.#inbox.splice(at, 1);
    if (!message) return;
    this.#isAnswering = true;
    this.#process.post(message);
  }

  // --- from the plan ------------------------------------------------------------------------------------------

  #fromPlan(message: FromChild): void {
    if (message.type === "error") return this.end(`the plan failed: ${message.message}`);
    if (message.type !== "live") return;
    const now = this.lastTimeMs ?? Date.now();
    void this.#carryOut(message.commands).then(() => {
      this.#isAnswering = false;
      this.#next();
    });
    const events: Omit<WatchEvent, "id">[] = [
      ...message.commands
        .filter((command) => command.kind === "submit")
        .map((command) => ({ timeMs: now, kind: "order" as const, text: orderText(command.request, command.clientId, this.#instrument) })),
      ...message.log.map((line) => ({ timeMs: line.timeMs, kind: "log" as const, text: line.text })),
    ];
    if (events.length > 0) this.#listener.happened(this, events);
    if (message.failure) {
      const { line } = message.failure;
      this.end(`the plan failed${line ? ` on line ${line}` : ""}: ${message.failure.message}`);
    }
  }

  /** Commands go to the venue in the order in which the plan gave them. */
  async #carryOut(commands: readonly LiveCommand[]): Promise<void> {
    for (const command of commands)
      try {
        await this.#send(command);
        if (command.kind === "submit" && command.request.kind === "market") await this.#awaitFill(command.clientId);
      } catch (error) {
        const text = `the venue did not take a command: ${(error as Error).message}`;
        this.#listener.happened(this, [{ timeMs: this.lastTimeMs ?? Date.now(), kind: "error", text }]);
      }
  }

  /** Notes a market order as under way, unless it was refused or filled before the venue's answer was read. */
  async #awaitFill(clientId: number): Promise<void> {
    this.#unfilled.add(clientId);
    const { orders } = await this.#venue.account(this.facts.id);
    if (!orders.some(({ id }) => id === clientId)) this.#unfilled.delete(clientId);
  }

  #send(command: LiveCommand): Promise<unknown> {
    const { id } = this.facts;
    switch (command.kind) {
      case "submit":
        return this.#venue.submit(id, command.clientId, command.request);
      case "cancel":
        return this.#venue.cancel(id, command.clientId);
      case "modify":
        return this.#venue.modify(id, command.clientId, command.change);
      case "exit":
        return this.#venue.setExits(id, command.which, command.price);
    }
  }

  async flatten(): Promise<void> {
    await this.#venue.flatten(this.facts.id);
  }

  /** The plan acts no more. What is open at the venue stays, with its stop and target, until it is flattened. */
  end(reason: string): void {
    if (this.ended) return;
    this.ended = reason;
    this.#process.kill(reason);
    this.#listener.ended(this, reason);
  }

  /** For a closing server: the watch goes on when it starts again. */
  suspend(): void {
    this.ended = "suspended";
    this.#process.kill("the server is closing");
  }

  summary(): WatchSummary {
    const { id, planId, planTitle, settings, inputs, createdMs } = this.facts;
    const { lots, equity, lastPrice } = this.account;
    const units = lots.reduce((sum, lot) => sum + lot.side * lot.quantity, 0);
    const first = lots[0];
    return {
      id,
      planId,
      planTitle,
      settings,
      inputs,
      state: this.state,
      endReason: this.ended,
      createdMs,
      equity,
      position: first
        ? {
            units,
            entryPrice: lots.reduce((sum, lot) => sum + lot.side * lot.quantity * lot.entryPrice, 0) / units,
            stop: first.stop,
            target: first.target,
            profit: lastPrice === null ? 0 : this.#equityAt(lastPrice) - this.account.cash,
          }
        : null,
      lastPrice,
      lastTimeMs: this.lastTimeMs,
      trades: this.trades.length,
      net: this.trades.reduce((sum, trade) => sum + trade.net, 0),
    };
  }
}

/** JSON has no NaN or Infinity: they arrive as null. */
function revived(order: Order): Order {
  return {
    ...order,
    price: order.price ?? Number.NaN,
    limitPrice: order.limitPrice ?? Number.NaN,
    quantity: order.quantity ?? Number.POSITIVE_INFINITY,
    expiresBar: order.expiresBar ?? Number.POSITIVE_INFINITY,
    expiresTime: order.expiresTime ?? Number.POSITIVE_INFINITY,
  };
}

function orderText(request: OrderTicket, id: number, { decimals }: Instrument): string {
  const quantity = Number.isFinite(request.quantity) ? String(request.quantity) : "all";
  const at = request.kind === "market" ? "at market" : `${request.kind} at ${request.price.toFixed(decimals)}`;
  return `order ${id}: ${request.side > 0 ? "buy" : "sell"} ${quantity} ${at}${request.tag ? ` (${request.tag})` : ""}`;
}

function fillText(fill: Fill, { decimals }: Instrument): string {
  return `${fill.side > 0 ? "bought" : "sold"} ${fill.quantity} at ${fill.price.toFixed(decimals)}${fill.source === "order" ? "" : ` by ${fill.source}`}${fill.tag ? ` (${fill.tag})` : ""}`;
}
