/** All watches: started, found again after a restart, changed, ended, and what the venue holds for them. */
import { randomUUID } from "node:crypto";
import {
  type ChangeWatch,
  type EventsQuery,
  type Leaving,
  type OpenedWatch,
  type OtherTrade,
  PLAIN_WATCH_OPTIONS,
  type PracticeInbox,
  type PriceJump,
  type RestartWatch,
  type VenueFaults,
  type VenueFaultsChange,
  type VenueHolding,
  type VenueStatus,
  type WatchChartQuery,
  type WatchDetail,
  type WatchDrift,
  type WatchEventsPage,
  type WatchOptions,
  type WatchRequest,
  type WatchSummary,
  type WatchVersion,
} from "@plan-tester/contract";
import { DAY_MS, PlanTesterError, resolveInputs, type Trade } from "@plan-tester/core";
import { describePlan, hashText, instrumentsOf, type ProcessPool } from "@plan-tester/runner";
import type { SymbolMinute, VenueClock, VenueWordMessage } from "@plan-tester/venue";
import type { Background } from "../../background.ts";
import type { WatchRow } from "../../db/entities.ts";
import type { EventStream } from "../../http/events.ts";
import { levelOf } from "../alerts/alert.ts";
import type { AlertService } from "../alerts/alert-service.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { RunService } from "../runs/run-service.ts";
import { isHolding } from "./account-view.ts";
import { packChart, withEarlier } from "./chart.ts";
import { PlanAtWork } from "./plan-at-work.ts";
import { roundsOf } from "./rounds.ts";
import { VenueClient } from "./venue-client.ts";
import { Watch } from "./watch.ts";
import { type Drifting, WatchDrifts } from "./watch-drift.ts";
import { WatchFeeds } from "./watch-feeds.ts";
import { WatchJournal } from "./watch-journal.ts";
import type { TradeSums, WatchRepository } from "./watch-repository.ts";
import { WatchRuns } from "./watch-runs.ts";
import type { NewEvent } from "./watch-texts.ts";
import type { WatchFacts, WatchMemory, WatchParts } from "./watch-types.ts";

const TELL_MS = 400;
/** For so long a plan's saved text is taken for the present one. */
const SAVED_MS = 1000;
/** Plans that are started at once after a restart: each takes a process and reads history. */
const STARTS_AT_ONCE = 3;

/** Trades that may be those of today, wherever midnight is. */
const TODAY_MS = 2 * DAY_MS;

const DEMO_CURRENCY = "XSC";

const NO_TRADES: TradeSums = { count: 0, net: 0 };

export class WatchService {
  readonly #repository: WatchRepository;
  readonly #journal: WatchJournal;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;
  /** Minutes that are open at the venue, as far as they have gone. */
  #forming: readonly SymbolMinute[] = [];
  readonly #background: Background;
  readonly #journalOfPlans: Journal;
  readonly #sourceOf: (planId: string) => Promise<string | null>;
  readonly #alerts: Pick<AlertService, "take" | "countsOf">;
  readonly #venue: VenueClient;
  readonly #feeds: WatchFeeds;
  readonly #drifts: WatchDrifts;
  readonly #runs: WatchRuns;
  readonly #watches = new Map<string, Watch>();
  /** Texts of plans as they were read a moment ago. */
  readonly #saved = new Map<string, { readonly untilMs: number; readonly source: Promise<string | null> }>();
  #status: VenueStatus = { connected: false, speed: 1, pace: 1, holds: true, nowMs: 0, trouble: "" };
  #statusAtMs = 0;
  #earlier: Promise<ReadonlyMap<string, TradeSums>> | null = null;
  #told = 0;
  #isFound = false;

  constructor(parts: {
    readonly markets: MarketService;
    readonly repository: WatchRepository;
    readonly pool: ProcessPool;
    readonly runs: RunService;
    readonly events: EventStream;
    readonly background: Background;
    readonly venuePort: number;
    readonly journal: Journal;
    /** A plan's text as it is saved, with its modules; null where it is gone. */
    readonly sourceOf: (planId: string) => Promise<string | null>;
    /** Takes what watches have to tell beyond their pages. */
    readonly alerts: Pick<AlertService, "take" | "countsOf">;
  }) {
    const { venuePort } = parts;
    this.#repository = parts.repository;
    this.#journal = new WatchJournal(parts.repository, parts.background);
    this.#pool = parts.pool;
    this.#events = parts.events;
    this.#background = parts.background;
    this.#alerts = parts.alerts;
    this.#journalOfPlans = parts.journal;
    this.#sourceOf = parts.sourceOf;
    this.#venue = new VenueClient(venuePort, {
      word: (word) => this.#word(word),
      followed: (message) => this.#watches.get(message.owner)?.followed(message),
      refused: ({ owner, reason }) => {
        this.#background.report("the venue did not take commands of a watch", { watch: owner }, new Error(reason));
        this.#watches.get(owner)?.follow();
      },
      clock: (clock) => this.#clock(clock),
      forming: (minutes) => this.#moved(minutes),
      connected: (isConnected) => this.#connected(isConnected),
      skewed: (skewMs) => this.#skewed(skewMs),
    });
    this.#feeds = new WatchFeeds(parts.markets, parts.pool, this.#venue);
    this.#drifts = new WatchDrifts(parts.repository, parts.pool, this.#feeds);
    const { repository, pool, markets, runs } = parts;
    this.#runs = new WatchRuns({ repository, pool, markets, runs, feeds: this.#feeds });
    markets.continuation = (symbol, fromMs) => this.#venue.bars(symbol, fromMs);
  }

  // --- the venue ----------------------------------------------------------------------------------------------------

  get venueStatus(): VenueStatus {
    return this.#status;
  }

  faults(): Promise<VenueFaults> {
    return this.#venue.faults();
  }

  async setFaults(change: VenueFaultsChange): Promise<VenueFaults> {
    const faults = await this.#venue.setFaults(change);
    const words = Object.entries(change).map(([name, value]) => `${name} ${value}`);
    for (const watch of this.#watches.values())
      if (!watch.hasEnded) watch.note(`faults of the venue for practice: ${words.join(", ")}`, "user");
    return faults;
  }

  /** A price jumps at the venue, for practice: told where the instrument is traded. */
  async jump(jump: PriceJump): Promise<void> {
    await this.#venue.jump(jump);
    const { symbol, percent } = jump;
    const text = `a fault for practice: the price of ${symbol} jumps by ${percent} % with the next minute`;
    for (const watch of this.#watches.values()) if (!watch.hasEnded && watch.symbols.includes(symbol)) watch.note(text, "user");
  }

  /** Something else trades under a watch's name, for practice. */
  async tradeBeside(id: string, trade: OtherTrade): Promise<void> {
    const watch = this.#watches.get(id);
    if (!watch) throw new PlanTesterError("conflict", "That watch is not at the venue any more.", { id });
    const { address } = watch;
    await this.#venue.trade(address.account, address.owner, trade);
  }

  async killVenue(): Promise<void> {
    await this.#venue.kill();
  }

  inbox(): Promise<PracticeInbox> {
    return this.#venue.inbox();
  }

  async setClock(change: { readonly speed?: number | undefined; readonly holds?: boolean | undefined }): Promise<VenueStatus> {
    this.#clock(await this.#venue.setClock(change));
    for (const watch of this.#watches.values()) watch.forgetLag();
    return this.#status;
  }

  #clock({ speed, pace, holds, nowMs, trouble }: VenueClock): void {
    if (trouble && !this.#status.trouble) this.#background.report("the practice venue is in trouble", {}, new Error(trouble));
    this.#status = { connected: true, speed, pace, holds, nowMs, trouble };
    this.#statusAtMs = performance.now();
    this.#tellPages();
  }

  /** The venue's clock by now. */
  #now(): { nowMs: number; speed: number; holds: boolean } {
    const { nowMs, speed, holds } = this.#status;
    return { nowMs: holds ? nowMs : nowMs + (performance.now() - this.#statusAtMs) * speed, speed, holds };
  }

  #connected(isConnected: boolean): void {
    this.#status = { ...this.#status, connected: isConnected };
    this.#events.send({ type: "venue", status: this.#status });
    if (!isConnected) {
      for (const watch of this.#watches.values()) watch.disconnected();
      return;
    }
    for (const watch of this.#watches.values()) if (!watch.hasEnded || watch.holds) watch.follow();
    this.#background.run("earlier watches were not resumed", {}, () => this.#findAgain());
  }

  #skewed(skewMs: number): void {
    const seconds = Math.round(Math.abs(skewMs) / 1000);
    const text =
      skewMs === 0
        ? "the venue's clock is right again"
        : `the venue's clock is ${seconds} s ${skewMs > 0 ? "ahead of" : "behind"} ours: how late bars come is reckoned without that`;
    for (const watch of this.#watches.values()) if (!watch.hasEnded) watch.note(text);
  }

  #moved(minutes: readonly SymbolMinute[]): void {
    this.#forming = minutes;
    for (const watch of this.#watches.values()) watch.priced(minutes);
    this.#tellPages();
  }

  async #word(word: VenueWordMessage): Promise<void> {
    if (word.type === "closing") this.#forming = this.#forming.filter(({ symbol }) => !word.minutes.some((over) => over.symbol === symbol));
    if (word.type === "report") await this.#watches.get(word.to.owner)?.take(word, this.#venue.waiting);
    else if (word.type === "price")
      await Promise.all(word.accounts.map(({ owner }) => this.#watches.get(owner)?.take(word, this.#venue.waiting)));
    else
      await Promise.all([...this.#watches.values()].map((watch) => (watch.isOnLine ? watch.take(word, this.#venue.waiting) : undefined)));
    this.#tellPages();
  }

  #tellPages(): void {
    const now = performance.now();
    if (now - this.#told < TELL_MS) return;
    this.#told = now;
    this.#events.send({ type: "venue", status: this.#status });
    for (const watch of this.#watches.values())
      if (!watch.hasEnded || watch.holds) this.#events.send({ type: "watch", id: watch.facts.id });
  }

  // --- starts -------------------------------------------------------------------------------------------------------

  /** After a start of the server: watches that had not ended go on with what the venue says of their accounts. */
  async #findAgain(): Promise<void> {
    if (this.#isFound) return;
    this.#isFound = true;
    const sums = await this.#earlierSums();
    const rows = (await this.#repository.list()).filter(
      ({ id, state, held }) => !this.#watches.has(id) && (state !== "ended" || isHolding(held)),
    );
    const next = async (): Promise<void> => {
      for (let row = rows.pop(); row; row = rows.pop()) {
        const { id } = row;
        try {
          const watch = await this.#make(factsOf(row), memoryOf(row, sums.get(id) ?? NO_TRADES));
          const trades = await this.#repository.trades(id);
          await this.#recall(watch, trades);
          watch.recallRounds(roundsOf(trades));
          watch.follow();
          await watch.started;
        } catch (error) {
          this.#journal.note(id, {
            events: [
              { timeMs: this.#status.nowMs, kind: "error", by: "watch", level: "", text: `not resumed: ${(error as Error).message}` },
            ],
          });
        }
      }
    };
    await Promise.all(Array.from({ length: STARTS_AT_ONCE }, next));
  }

  async #recall(watch: Watch, trades: readonly Trade[]): Promise<void> {
    const ofLate = trades.filter(({ exitTime }) => exitTime >= this.#status.nowMs - TODAY_MS);
    watch.recall(ofLate, await this.#repository.lastOrderMs(watch.facts.id));
  }

  /** One that has ended goes on, on its account and with its journal; rounds are counted anew. @throws PlanTesterError conflict */
  async restart(id: string, open: RestartWatch["open"]): Promise<WatchSummary> {
    await this.#journal.settled();
    const row = await this.#row(id);
    const { account } = { ...PLAIN_WATCH_OPTIONS, ...row.options };
    if (row.state !== "ended") throw new PlanTesterError("conflict", "That watch has not ended.", { id });
    const holds = this.#watches.get(id)?.holds ?? isHolding(row.held);
    if (holds && open === "refuse")
      throw new PlanTesterError("conflict", "Something of that watch is still open at the venue. Close it first, or start again with it.", {
        id,
      });
    if (holds && open === "flatten") await this.#venue.flatten(account || id, id);
    const trades = await this.#repository.trades(id);
    const net = trades.reduce((sum, trade) => sum + trade.net, 0);
    const before = memoryOf(row, { count: trades.length, net });
    const watch = await this.#make(factsOf(row), { ...before, hasEnded: false, endReason: "", kit: null });
    const text = `started again${holds ? (open === "adopt" ? ", with what is open" : ", what was open is closed") : ""}`;
    this.#journal.note(id, {
      events: [{ timeMs: this.#status.nowMs, kind: "state", by: "user", level: "", text, cause: "by hand" }],
      // It begins anew: a limit that had ended its entries is no longer hit.
      memory: { hasEnded: false, endReason: "", kit: null },
    });
    await this.#recall(watch, trades);
    watch.follow();
    await watch.started;
    return this.#summaryOf(watch);
  }

  async start(request: WatchRequest): Promise<WatchSummary> {
    const { planId, source, inputs, settings, name } = request;
    const options = { ...PLAIN_WATCH_OPTIONS, ...request.options };
    if (!this.#status.connected)
      throw new PlanTesterError(
        "unavailable",
        "The practice venue does not answer. It is started with the server; wait a moment and try again.",
        {},
      );
    await this.#checkMode(options);
    const description = await this.#pool.use((process) => describePlan(process, source));
    const facts: WatchFacts = {
      ...{ planId, source, settings },
      // As they are, defaults included: what changes later is told against them.
      inputs: resolveInputs(description.inputs, inputs),
      id: randomUUID().slice(0, 8),
      planTitle: description.title,
      createdMs: Date.now(),
    };
    const memory: WatchMemory = {
      ...{ name: name ?? description.title, options, isPaused: false, lastReport: 0, epoch: "", held: null, kit: null },
      ...{ trades: 0, net: 0, endReason: "", hasEnded: false, pending: null, declined: "" },
    };
    const watch = await this.#make(facts, memory);
    await this.#repository.insert({
      ...facts,
      ...{ name: memory.name, options, isPaused: false, lastReport: 0, epoch: "", held: null, kit: null, state: "armed", endReason: "" },
      ...{ pending: null, declined: "" },
    });
    watch.follow();
    await watch.started;
    return this.#summaryOf(watch);
  }

  async #make(facts: WatchFacts, memory: WatchMemory): Promise<Watch> {
    const { settings, id } = facts;
    const instruments = await this.#feeds.instrumentsOf(facts);
    const engine = this.#feeds.engineOf(facts, instruments);
    const parts: WatchParts = {
      venue: this.#venue,
      plan: (onEnd) => new PlanAtWork(onEnd),
      instruments,
      engine,
      feeds: (bars, nowMs) => Promise.all(instruments.map((instrument) => this.#feeds.feed(instrument, settings.timeframe, bars, nowMs))),
      minutes: (fromMs, toMs) => this.#feeds.minutes(instruments, fromMs, toMs),
      happened: (news) => {
        this.#journal.note(id, news);
        this.#alert(watch, news.events ?? []);
        if (news.trades?.length)
          this.#background.run("the drift of a watch was not looked at", { watch: id }, () =>
            this.#drifts.check(watch, () => this.drift(id)),
          );
        this.#events.send({ type: "watch", id });
      },
      trades: async () => {
        await this.#journal.settled();
        return this.#repository.trades(id);
      },
      renewed: (before, now) =>
        this.#background.run("a watch's new version was not noted in the Journal", { watch: id }, () =>
          this.#journalOfPlans.renewed(now.planId, watch.memory.name, before, now),
        ),
      clock: () => this.#now(),
    };
    const watch = new Watch(facts, memory, parts);
    if (!memory.hasEnded) await this.#venue.openAccount(watch.address.account, instruments, engine, settings.timeframe);
    this.#watches.set(id, watch);
    return watch;
  }

  #alert({ facts, memory }: Watch, events: readonly NewEvent[]): void {
    const { id: watchId, planTitle, settings } = facts;
    const source = { watchId, watchName: memory.name, planTitle, symbol: settings.symbol };
    void this.#alerts.take(
      events.flatMap(({ alert: event, level, text, by, timeMs }) =>
        event ? [{ ...source, event, level: levelOf(event, level), text, by, timeMs, atMs: Date.now() }] : [],
      ),
    );
  }

  // --- what the user asks -------------------------------------------------------------------------------------------

  async list(): Promise<WatchSummary[]> {
    return Promise.all((await this.#repository.list()).map((row) => this.#summary(row)));
  }

  async #summary(row: WatchRow): Promise<WatchSummary> {
    const watch = this.#watches.get(row.id);
    return watch
      ? this.#summaryOf(watch)
      : { ...storedSummary(row, (await this.#earlierSums()).get(row.id) ?? NO_TRADES), alerts: this.#alerts.countsOf(row.id) };
  }

  #summaryOf(watch: Watch): WatchSummary {
    return { ...watch.summary(), alerts: this.#alerts.countsOf(watch.facts.id) };
  }

  /** Sums of watches of earlier lives of the server, read once: one that is at work keeps its own, another has no more trades. */
  #earlierSums(): Promise<ReadonlyMap<string, TradeSums>> {
    this.#earlier ??= this.#repository.sums();
    return this.#earlier;
  }

  async #row(id: string): Promise<WatchRow> {
    const row = await this.#repository.find(id);
    if (!row) throw new PlanTesterError("not-found", `There is no watch "${id}".`, { id });
    return row;
  }

  async get(id: string): Promise<WatchDetail> {
    const row = await this.#row(id);
    const watch = this.#watches.get(id);
    return {
      ...(await this.#summary(row)),
      ...{ source: watch?.facts.source ?? row.source, workingOrders: watch?.workingOrders ?? [], figures: watch?.figures ?? [] },
      ...{ newer: watch ? await this.#newer(watch) : null, pending: null },
      ...(watch?.memory.pending && { pending: watch.changesTo(watch.memory.pending) }),
    };
  }

  /** A plan's text with its modules, as of a moment ago: pages ask for it several times a second. null where it can't be put together. */
  #savedSource(planId: string): Promise<string | null> {
    const known = this.#saved.get(planId);
    if (known && performance.now() < known.untilMs) return known.source;
    const source = this.#sourceOf(planId).catch(() => null);
    this.#saved.set(planId, { untilMs: performance.now() + SAVED_MS, source });
    return source;
  }

  /** How the plan's text is different by now from the one at work; null where it is not, can't be linked, or is not wanted. */
  async #newer({ facts, memory, hasEnded, changesTo }: Watch): Promise<readonly string[] | null> {
    if (hasEnded) return null;
    const source = await this.#savedSource(facts.planId);
    if (source === null || source === facts.source || source === memory.pending?.source || hashText(source) === memory.declined)
      return null;
    return changesTo({ source, inputs: facts.inputs });
  }

  /** What it did against the backtest of the same bars, since it began. */
  async drift(id: string): Promise<WatchDrift> {
    const row = await this.#row(id);
    const watch = this.#watches.get(id);
    await this.#journal.settled();
    return this.#drifts.of(drifting(watch, row));
  }

  /** Keeps what it did as a run, beside the backtest of the same bars. */
  async open(id: string): Promise<OpenedWatch> {
    const row = await this.#row(id);
    const watch = this.#watches.get(id);
    await this.#journal.settled();
    return this.#runs.open({ ...drifting(watch, row), name: watch?.memory.name ?? row.name });
  }

  /** Bars of a watch, the last or those up to a time, with what its plan shows. @throws PlanTesterError conflict where none runs */
  async chart(id: string, { bars, until }: WatchChartQuery): Promise<Uint8Array> {
    const watch = await this.#active(id);
    const minute = this.#forming.find(({ symbol }) => symbol === watch.facts.settings.symbol)?.bar ?? null;
    const untilMs = until || null;
    const viewed = await watch.view({ count: bars, untilMs, minute });
    if (!viewed?.view) throw new PlanTesterError("conflict", "No plan runs there at present: it starts, or it has ended.", { id });
    const { view, notes } = viewed;
    const { time } = view.bars;
    const { symbol, timeframe } = watch.facts.settings;
    // Further back than what the plan was warmed up with.
    const earlier =
      time.length < bars
        ? await this.#feeds.before(
            symbol,
            timeframe,
            time[0] ?? (untilMs === null ? Number.POSITIVE_INFINITY : untilMs + 1),
            bars - time.length,
          )
        : null;
    return packChart(earlier ? withEarlier(view, earlier) : view, notes, bars);
  }

  async trades(id: string): Promise<Trade[]> {
    await this.#row(id);
    return [...(await this.#repository.trades(id)), ...this.#journal.trades(id)];
  }

  async events(id: string, query: EventsQuery): Promise<WatchEventsPage> {
    await this.#row(id);
    return this.#journal.events(id, query);
  }

  /** @throws PlanTesterError not-found, or conflict where it has ended and holds nothing. */
  async #active(id: string): Promise<Watch> {
    const watch = this.#watches.get(id);
    if (watch && (!watch.hasEnded || watch.holds)) return watch;
    await this.#row(id);
    throw new PlanTesterError("conflict", "That watch is no longer active.", { id });
  }

  /** What the venue can't do is refused ahead of it. */
  async #checkMode({ mode }: WatchOptions): Promise<void> {
    if (mode === "alerts only" || (await this.#venue.answer()).takesOrders) return;
    throw new PlanTesterError(
      "bad-input",
      `This venue gives data alone: it takes no orders, so that a watch can't be "${mode}". Choose the mode "alerts only".`,
      { mode },
    );
  }

  async change(id: string, change: ChangeWatch): Promise<void> {
    const watch = this.#watches.get(id);
    if (watch && change.options && change.options.mode !== watch.memory.options.mode) await this.#checkMode(change.options);
    if (watch) return watch.change(change);
    await this.#row(id);
    if (change.name === undefined) throw new PlanTesterError("conflict", "That watch is no longer active.", { id });
    await this.#repository.update(id, { name: change.name });
  }

  /** Another version of its plan, or other inputs (R8.6). @throws PlanTesterError bad-plan, bad-input or conflict: nothing has changed then */
  async changePlan(id: string, { source: given, inputs: wanted, when }: WatchVersion): Promise<void> {
    const watch = await this.#active(id);
    if (watch.hasEnded) throw new PlanTesterError("conflict", "That watch has ended.", { id });
    const { facts } = watch;
    const source = given ?? facts.source;
    if (when === "never") return watch.decline(hashText(source));
    const { inputs, symbols } = await this.#pool.use(async (process) => {
      const { inputs: specs } = await describePlan(process, source);
      // Inputs that the new text does not declare any more go with the old one.
      const known = Object.entries(wanted ?? facts.inputs).filter(([name]) => wanted || specs.some((spec) => spec.name === name));
      const whole = resolveInputs(specs, Object.fromEntries(known));
      return { inputs: whole, symbols: await instrumentsOf(process, source, whole) };
    });
    const further = symbols.filter((symbol) => !watch.symbols.includes(symbol));
    if (further.length > 0)
      throw new PlanTesterError(
        "conflict",
        `The new version trades on ${further.join(", ")} too, which this watch does not follow. End it and start another.`,
        { symbols: further },
      );
    watch.runInstead({ source, inputs }, when === "now");
  }

  /** Ends a watch; what is open is dealt with as asked (R8.5). */
  async stop(id: string, leaving: Leaving): Promise<void> {
    const watch = await this.#active(id);
    if (watch.hasEnded) throw new PlanTesterError("conflict", "That watch has ended; what it holds can be closed.", { id });
    await watch.end(leaving === "flatten" ? "stopped by hand and flattened" : "stopped by hand", leaving, "user");
  }

  async stopAll(leaving: Leaving): Promise<WatchSummary[]> {
    await Promise.all(
      [...this.#watches.values()].map((watch) =>
        watch.hasEnded ? (leaving === "flatten" ? watch.flatten("user") : undefined) : this.stop(watch.facts.id, leaving),
      ),
    );
    return this.list();
  }

  async flatten(id: string): Promise<void> {
    await (await this.#active(id)).flatten("user");
  }

  async cancelOrder(id: string, orderId: number): Promise<void> {
    await (await this.#active(id)).cancel(orderId);
  }

  async answerPrompt(id: string, orderId: number, isAccepted: boolean, isLate: boolean): Promise<void> {
    (await this.#active(id)).answer(orderId, isAccepted, isLate);
  }

  async delete(id: string): Promise<void> {
    const row = await this.#row(id);
    const watch = this.#watches.get(id);
    if (row.state !== "ended" || (watch && (!watch.hasEnded || watch.holds)))
      throw new PlanTesterError("conflict", "A watch is deleted once it has ended and holds nothing. Stop it first.", { id });
    this.#watches.delete(id);
    await this.#journal.settled();
    await this.#repository.delete(id);
    if (!row.options.account) await this.#venue.closeAccount(id).catch(() => undefined);
    this.#events.send({ type: "watch", id });
  }

  /** What is open or waits at the venue and belongs to no watch. */
  async holdings(): Promise<VenueHolding[]> {
    return (await this.#venue.holdings())
      .filter(({ owner }) => !this.#watches.has(owner))
      .map(({ account, owner, report: { books } }) => ({
        ...{ account, owner, orders: books.reduce((sum, { orders }) => sum + orders.length, 0) },
        positions: books.flatMap(({ symbol, lots }) =>
          lots.map(({ side, quantity, entryPrice }) => ({ symbol, units: side * quantity, entryPrice })),
        ),
      }))
      .filter(({ orders, positions }) => orders + positions.length > 0);
  }

  async closeHolding(account: string, owner: string): Promise<void> {
    if (this.#watches.has(owner)) throw new PlanTesterError("conflict", "That belongs to a watch: close it there.", { owner });
    await this.#venue.flatten(account, owner);
  }

  /** Settles when what can be written is written. */
  async close(): Promise<void> {
    for (const watch of this.#watches.values()) watch.suspend();
    this.#venue.close();
    await this.#journal.settled();
  }
}

/** @param watch undefined where it is not at work */
const drifting = (watch: Watch | undefined, row: WatchRow): Drifting => ({
  facts: watch?.facts ?? factsOf(row),
  account: watch?.account ?? row.held,
  nowMs: (watch ? watch.hasEnded : row.state === "ended") ? null : (watch?.lastTimeMs ?? null),
});

function factsOf({ id, planId, planTitle, source, createdMs, inputs, settings }: WatchRow): WatchFacts {
  return { id, planId, planTitle, source, createdMs, inputs, settings };
}

function memoryOf(row: WatchRow, { count, net }: TradeSums): WatchMemory {
  const { name, planTitle, options, isPaused, lastReport, epoch, held, kit, endReason, state, pending, declined } = row;
  return {
    ...{ name: name || planTitle, options: { ...PLAIN_WATCH_OPTIONS, ...options }, isPaused, lastReport, epoch, held, kit, endReason },
    ...{ trades: count, net, hasEnded: state === "ended", pending, declined },
  };
}

/** One that has ended before the server began, or has not been resumed yet. */
function storedSummary(row: WatchRow, sums: TradeSums): Omit<WatchSummary, "alerts"> {
  const { source: _source, ...facts } = factsOf(row);
  const { name, options, isPaused, endReason, trades, net } = memoryOf(row, sums);
  return {
    ...facts,
    ...{ name, options, isPaused, endReason, trades, net, netToday: 0 },
    state: row.state === "ended" ? "ended" : "starting",
    // Of one that never named its account's, that of the world it traded in.
    ...{
      currency: facts.settings.currency || DEMO_CURRENCY,
      equity: facts.settings.cash + net,
      positions: [],
      openProfit: 0,
      lastPrice: null,
      lastTimeMs: null,
    },
    ...{ prompts: [], lagMs: null, slowLagMs: null, ageMs: null, lastSignalMs: null },
  };
}
