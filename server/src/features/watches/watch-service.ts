/** All watches: started, found again after a restart, stopped and flattened. */
import { randomUUID } from "node:crypto";
import {
  engineSettings,
  type VenueStatus,
  type WatchDetail,
  type WatchEvent,
  type WatchRequest,
  type WatchSummary,
} from "@plan-tester/contract";
import { type BarColumns, nominalMs, PlanTesterError, sliceSeries, type Trade } from "@plan-tester/core";
import { describePlan, type ProcessPool } from "@plan-tester/runner";
import type { VenueClock, VenueMessage } from "@plan-tester/venue";
import type { Background } from "../../background.ts";
import type { WatchRow } from "../../db/entities.ts";
import type { EventStream } from "../../http/events.ts";
import type { MarketService } from "../markets/market-service.ts";
import { LiveBars } from "./live-bars.ts";
import { VenueClient } from "./venue-client.ts";
import { Watch, type WatchFacts, type WatchListener } from "./watch.ts";
import type { WatchRepository } from "./watch-repository.ts";

/** Bars of the plan's timeframe that a watch starts with: enough to warm any usual study. */
const HISTORY_BARS = 1500;
const MOST_EVENTS = 400;
const TELL_MS = 400;

export class WatchService implements WatchListener {
  readonly #markets: MarketService;
  readonly #repository: WatchRepository;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;
  readonly #background: Background;
  readonly #venue: VenueClient;
  readonly #watches = new Map<string, Watch>();
  #status: VenueStatus = { connected: false, speed: 1, nowMs: 0, trouble: "" };
  #told = 0;
  #found = false;

  constructor(parts: {
    readonly markets: MarketService;
    readonly repository: WatchRepository;
    readonly pool: ProcessPool;
    readonly events: EventStream;
    readonly background: Background;
    readonly venuePort: number;
  }) {
    const { venuePort } = parts;
    this.#markets = parts.markets;
    this.#repository = parts.repository;
    this.#pool = parts.pool;
    this.#events = parts.events;
    this.#background = parts.background;
    this.#venue = new VenueClient(
      venuePort,
      (message) => this.#fromVenue(message),
      (connected) => {
        this.#status = { ...this.#status, connected };
        this.#events.send({ type: "venue", status: this.#status });
        if (connected) this.#background.run("earlier watches were not resumed", {}, () => this.#findAgain());
      },
    );
  }

  get venueStatus(): VenueStatus {
    return this.#status;
  }

  async setSpeed(speed: number): Promise<VenueStatus> {
    const answer = await this.#venue.setSpeed(speed);
    this.#status = { ...this.#status, ...answer };
    return this.#status;
  }

  #clock({ speed, nowMs, trouble }: VenueClock): void {
    if (trouble && !this.#status.trouble) this.#background.report("the practice venue is in trouble", {}, new Error(trouble));
    this.#status = { connected: true, speed, nowMs, trouble };
  }

  #fromVenue(message: VenueMessage): void {
    if (message.type === "status") this.#clock(message);
    else if (message.type === "bar") {
      for (const watch of this.#watches.values()) if (watch.facts.settings.symbol === message.symbol) watch.bar(message.bar);
    } else this.#watches.get(message.account.id)?.report(message);
    const now = performance.now();
    if (now - this.#told < TELL_MS) return;
    this.#told = now;
    this.#events.send({ type: "venue", status: this.#status });
    for (const watch of this.#watches.values()) if (!watch.ended) this.#events.send({ type: "watch", id: watch.facts.id });
  }

  /** After a start of the server: watches that had not ended go on with what the venue says of their accounts. */
  async #findAgain(): Promise<void> {
    if (this.#found) return;
    this.#found = true;
    for (const row of await this.#repository.list())
      if (row.state !== "ended" && !this.#watches.has(row.id))
        try {
          await this.#begin(factsOf(row), row.closed);
          await this.#repository.addEvents(row.id, [
            { timeMs: this.#status.nowMs, kind: "state", text: `resumed: ${this.#watches.get(row.id)?.state}` },
          ]);
        } catch (error) {
          await this.#repository.addEvents(row.id, [
            { timeMs: this.#status.nowMs, kind: "error", text: `not resumed: ${(error as Error).message}` },
          ]);
        }
  }

  async start(request: WatchRequest): Promise<WatchSummary> {
    const description = await this.#pool.use((process) => describePlan(process, request.source));
    const facts: WatchFacts = { ...request, id: randomUUID().slice(0, 8), planTitle: description.title, createdMs: Date.now() };
    const watch = await this.#begin(facts, []);
    const { id, planId, planTitle, source, createdMs } = facts;
    await this.#repository.insert({
      id,
      planId,
      planTitle,
      source,
      createdMs,
      inputs: facts.inputs,
      settings: facts.settings,
      state: "armed",
      endReason: "",
      closed: [],
    });
    await this.#repository.addEvents(id, [{ timeMs: this.#status.nowMs, kind: "state", text: "armed" }]);
    return watch.summary();
  }

  async #begin(facts: WatchFacts, trades: readonly Trade[]): Promise<Watch> {
    const { settings } = facts;
    const { series, instrument } = await this.#markets.base(settings.symbol);
    if (series.timeframe !== "1m")
      throw new PlanTesterError("bad-input", `${settings.symbol} has bars of ${series.timeframe}; a watch needs minutes.`, {});
    const account = await this.#venue.openAccount(facts.id, instrument, engineSettings(settings, [instrument]));
    const minutes = HISTORY_BARS * Math.max(1, Math.round(nominalMs(settings.timeframe) / 60_000));
    const history = sliceSeries(series, Math.max(0, series.length - minutes), series.length);
    const live = (await this.#venue.bars(settings.symbol)).columns as unknown as BarColumns;
    const watch = new Watch(
      facts,
      instrument,
      account,
      trades,
      new LiveBars(instrument, settings.timeframe, history, live),
      this.#venue,
      this,
    );
    this.#watches.set(facts.id, watch);
    return watch;
  }

  // --- what watches tell --------------------------------------------------------------------------------------

  happened(watch: Watch, events: Parameters<WatchListener["happened"]>[1]): void {
    this.#note(watch.facts.id, events);
    this.#events.send({ type: "watch", id: watch.facts.id });
  }

  traded(watch: Watch): void {
    const { id } = watch.facts;
    const closed = [...watch.trades];
    this.#write(id, "the trades of a watch were not saved", () => this.#repository.update(id, { closed }));
  }

  ended(watch: Watch, reason: string): void {
    const { id } = watch.facts;
    const row = { state: "ended", endReason: reason, closed: [...watch.trades] };
    this.#write(id, "the end of a watch was not saved", () => this.#repository.update(id, row));
    this.#note(id, [{ timeMs: watch.lastTimeMs ?? this.#status.nowMs, kind: "state", text: `ended: ${reason}` }]);
    this.#events.send({ type: "watch", id });
  }

  // --- what is written down ---------------------------------------------------------------------------------------

  /** One write after the other, each until it is done: the journal keeps its order and loses no line. */
  #line: Promise<unknown> = Promise.resolve();
  /** What happened and is not written down yet, oldest first. */
  #unwritten: { readonly id: string; readonly events: readonly Omit<WatchEvent, "id">[] }[] = [];

  #write(id: string, what: string, work: () => Promise<unknown>): void {
    this.#line = this.#line.then(() => this.#background.insist(what, { watch: id }, work));
  }

  #note(id: string, events: readonly Omit<WatchEvent, "id">[]): void {
    const entry = { id, events };
    this.#unwritten.push(entry);
    this.#write(id, "the journal of a watch was not saved", async () => {
      await this.#repository.addEvents(id, events);
      this.#unwritten = this.#unwritten.filter((other) => other !== entry);
    });
  }

  /** The journal of a watch, newest first. What is not written down yet has numbers below 0. */
  async #journalOf(id: string): Promise<WatchEvent[]> {
    const unwritten = this.#unwritten.flatMap((entry) => (entry.id === id ? entry.events : []));
    const stored = await this.#repository.events(id, MOST_EVENTS);
    return [...unwritten.map((event, k) => ({ ...event, id: -1 - k })).reverse(), ...stored].slice(0, MOST_EVENTS);
  }

  // --- what the user asks -------------------------------------------------------------------------------------

  async list(): Promise<WatchSummary[]> {
    return (await this.#repository.list()).map((row) => this.#watches.get(row.id)?.summary() ?? storedSummary(row));
  }

  async get(id: string): Promise<WatchDetail> {
    const row = (await this.#repository.list()).find((candidate) => candidate.id === id);
    if (!row) throw new PlanTesterError("not-found", `There is no watch "${id}".`, { id });
    const watch = this.#watches.get(id);
    return {
      ...(watch?.summary() ?? storedSummary(row)),
      source: row.source,
      workingOrders: watch?.account.orders ?? [],
      events: await this.#journalOf(id),
      closed: watch?.trades ?? row.closed,
    };
  }

  #active(id: string): Watch {
    const watch = this.#watches.get(id);
    if (!watch || watch.ended) throw new PlanTesterError("conflict", "That watch is no longer active.", { id });
    return watch;
  }

  /** Stops the plan. With `flatten` its orders are cancelled and its position closed first. */
  async stop(id: string, flatten: boolean): Promise<void> {
    const watch = this.#active(id);
    if (flatten) await watch.flatten();
    watch.end(flatten ? "stopped by hand and flattened" : "stopped by hand");
  }

  async flatten(id: string): Promise<void> {
    await this.#active(id).flatten();
  }

  /** Settles when what can be written is written. */
  async close(): Promise<void> {
    for (const watch of this.#watches.values()) if (!watch.ended) watch.suspend();
    this.#venue.close();
    await this.#line;
  }
}

function factsOf(row: WatchRow): WatchFacts {
  const { id, planId, planTitle, source, createdMs } = row;
  return { id, planId, planTitle, source, createdMs, inputs: row.inputs, settings: row.settings };
}

function storedSummary(row: WatchRow): WatchSummary {
  const closed = row.closed;
  const { source: _source, ...facts } = factsOf(row);
  const net = closed.reduce((sum, trade) => sum + trade.net, 0);
  return {
    ...facts,
    state: row.state === "ended" ? "ended" : "starting",
    endReason: row.endReason,
    equity: facts.settings.cash + net,
    position: null,
    lastPrice: null,
    lastTimeMs: null,
    trades: closed.length,
    net,
  };
}
