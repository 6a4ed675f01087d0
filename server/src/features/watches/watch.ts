/**
 * One plan at work: what the venue says goes to the plan's process, what the plan asks for goes to the venue, and what happens
 * is told. What is open and waiting is what the venue's account says, so it is right after a restart too, and after the end.
 */
import type { Leaving, WatchOptions, WatchOrder, WatchPosition, WatchState, WatchSummary } from "@plan-tester/contract";
import {
  type AccountReport,
  type EventReport,
  type Instrument,
  type LookedAt,
  MINUTE_MS,
  nominalMs,
  type OwnFigure,
  PlanTesterError,
  pointMoneyAt,
  type Trade,
  type VenueWord,
  withMissed,
} from "@plan-tester/core";
import type { LiveFeedData, LiveMode } from "@plan-tester/runner";
import type { Address, FollowedMessage, SymbolMinute, VenueWordMessage } from "@plan-tester/venue";
import { messageOf } from "../../text.ts";
import { changesBetween } from "../journal/changes.ts";
import { isHolding, leaving, ordersOf, positionsOf } from "./account-view.ts";
import { BrokenLine } from "./broken-line.ts";
import { CommandLine } from "./command-line.ts";
import { FailurePolicy } from "./failure-policy.ts";
import { HeardReports } from "./heard-reports.ts";
import { Lag } from "./lag.ts";
import { ownWord } from "./own-word.ts";
import type { LiveAnswer, LiveViewed, WorkingPlan } from "./plan-at-work.ts";
import { Prompts } from "./prompts.ts";
import { TodaysNet } from "./todays-net.ts";
import {
  agreementEvent,
  askEvent,
  commandEvent,
  errorEvent,
  logEvent,
  type NewEvent,
  promptEvent,
  reportEvents,
  signalEvent,
  stateEvent,
} from "./watch-texts.ts";
import type { WatchedPlan, WatchFacts, WatchMemory, WatchParts } from "./watch-types.ts";

/** Words of the venue that a bar's age is reckoned by: one that waits for us does not age. */
const HELD_MS = 4000;
const STALLED_MINUTES = 2;

export class Watch {
  facts: WatchFacts;
  readonly memory: WatchMemory;
  readonly address: Address;
  readonly prompts: Prompts;
  readonly #parts: WatchParts;
  readonly #line: CommandLine;
  #lag = new Lag();
  readonly #broken = new BrokenLine((seconds) =>
    this.#tell(errorEvent(this.#nowMs, `the line to the venue has been broken for ${seconds} s`, "policy", "connection")),
  );
  readonly #policy = new FailurePolicy({
    options: () => this.memory.options,
    nowMs: () => this.#nowMs,
    isFlat: () => this.#isFlat,
    hasEnded: () => this.hasEnded,
    tell: (...events) => this.#tell(...events),
    end: (reason) => void this.end(reason, "protected", "policy"),
    flatten: () => this.flatten("policy"),
    closeOthers: () => this.#parts.venue.flatten(this.address.account, this.address.owner, "others"),
  });
  #plan: WorkingPlan | null = null;
  /** Settles when the plan has started: words that come before wait for it. */
  #ready: Promise<void> = Promise.resolve();
  #isFollowed = false;
  #hasDrifted = false;
  /** Since the server began. */
  #hasRun = false;
  /** What its policy wanted closed while the venue was away. */
  #owesClose = false;
  #isStarting = false;
  #isStarted = false;
  #wasFollowed = false;
  readonly #heard: HeardReports;
  /** Minutes for which commands have waited for the venue. */
  #stalled = 0;
  #setBegun: () => void = () => undefined;
  readonly #begun = new Promise<void>((resolve) => {
    this.#setBegun = resolve;
  });
  readonly #prices = new Map<string, number>();
  lastTimeMs: number | null = null;
  #ageMs: number | null = null;
  #lastSignalMs: number | null = null;
  #today = new TodaysNet();
  #rounds = 0;
  figures: readonly OwnFigure[] = [];

  constructor(facts: WatchFacts, memory: WatchMemory, parts: WatchParts) {
    this.facts = facts;
    this.memory = memory;
    this.#parts = parts;
    this.address = { account: memory.options.account || facts.id, owner: facts.id };
    this.#line = new CommandLine(this.address, parts.venue);
    this.#heard = new HeardReports(memory);
    this.prompts = new Prompts((orderId, isAccepted, note) => this.#settle(orderId, isAccepted, note));
  }

  get account(): AccountReport | null {
    return this.memory.held;
  }

  get symbols(): readonly string[] {
    return this.#parts.instruments.map(({ symbol }) => symbol);
  }

  get hasEnded(): boolean {
    return this.memory.hasEnded;
  }

  /** Whether anything of it is open or waits at the venue. */
  get holds(): boolean {
    return isHolding(this.account);
  }

  get state(): WatchState {
    if (this.hasEnded) return "ended";
    if (!this.#isStarted) return "starting";
    if (this.prompts.list.length > 0) return "waiting for you";
    if (this.account?.books.some(({ lots }) => lots.length > 0)) return "in position";
    return this.memory.isPaused ? "paused" : "armed";
  }

  /** Whether it hears the venue: words before it has asked how things are would be out of order. */
  get isOnLine(): boolean {
    return this.#isFollowed;
  }

  /** Settles when the plan has started, or could not be. */
  get started(): Promise<void> {
    return this.#begun;
  }

  /** The line to the venue is broken: what is said on the next one begins with how things are. */
  disconnected(): void {
    if (this.#isFollowed && !this.hasEnded) {
      this.#tell({ ...stateEvent(this.#nowMs, "the line to the venue is broken; orders and stops there go on"), cause: "connection" });
      this.#broken.broke(this.memory.options.lineSeconds);
    }
    this.#isFollowed = false;
  }

  get #nowMs(): number {
    return this.lastTimeMs ?? this.#parts.clock().nowMs;
  }

  #tell(...events: readonly NewEvent[]): void {
    if (events.length > 0) this.#parts.happened({ events });
  }

  // --- on the line with the venue -----------------------------------------------------------------------------------

  /** After a restart: trades of late, oldest first, of which some may be today's, and when its plan last sent an order. */
  recall(trades: readonly Trade[], lastOrderMs = this.#lastSignalMs): void {
    this.#lastSignalMs = lastOrderMs;
    for (const trade of trades) this.#today.count(trade, this.#instrument(trade.symbol));
  }

  /** After a restart: how often it has been in a position and out again. */
  recallRounds(count: number): void {
    this.#rounds = count;
  }

  /** Starts the plan's process ahead of need, and asks the venue what there is. */
  follow(): void {
    if (!this.hasEnded) this.#plan ??= this.#parts.plan((reason) => this.#died(reason));
    this.#askWhatIs();
  }

  /** The venue is asked how the account is, and for what was not heard. */
  #askWhatIs(): void {
    this.#parts.venue.send({ type: "follow", ...this.address, after: this.#heard.last, prices: this.#plan?.wantsPrice ?? false });
  }

  /** The venue has said how the account is; words that follow are told from here on. */
  followed(message: FollowedMessage): void {
    if (this.#hasForgotten(message)) return this.#askWhatIs();
    const { report, missed, lastReport, timeMs } = message;
    const before = this.account;
    if (missed === null)
      this.#tell(
        errorEvent(
          timeMs,
          `the venue does not keep all reports since number ${this.memory.lastReport}: its account is taken over as it is`,
        ),
      );
    // A plan that is at work hears of what was missed, and it is written down with its answer.
    const isHearing = this.#isStarted && !this.hasEnded;
    for (const past of isHearing ? [] : (missed ?? [])) {
      this.#takeMissed(past);
      this.#record(past, past.timeMs, past.event.kind === "closed" ? [past.event.trade] : []);
    }
    this.memory.held = report;
    if (missed === null || !isHearing) this.memory.lastReport = lastReport;
    if (before && !this.#isFollowed) this.#tell(agreementEvent(before, report, missed?.length ?? 0, timeMs));
    const hadGap = this.#heard.caughtUp(lastReport);
    const isAgain = (this.#wasFollowed && !this.#isFollowed) || hadGap;
    this.#isFollowed = this.#wasFollowed = true;
    if (this.#owesClose) {
      this.#owesClose = false;
      void this.flatten("policy");
    }
    if (this.hasEnded) return this.#setBegun();
    if (this.#isStarted && this.#line.hasGoneBack(report)) this.#startAgain(timeMs);
    if (this.#isStarted) {
      this.#line.resend(report);
      if (isAgain) this.#ready = this.#ready.then(() => this.#catchUp(message));
    } else {
      // Case: the line broke while it was starting.
      if (this.#isStarting) this.#renew();
      this.#line.begin(report);
      this.#isStarting = true;
      this.#ready = this.#start(message).finally(this.#setBegun);
    }
  }

  /** The limits of the kit count what happened while the plan was away. */
  #takeMissed({ event, number }: EventReport): void {
    const { kit, lastReport } = this.memory;
    if (!kit || number <= lastReport) return;
    this.memory.kit = kit.map((memory, k) => (this.#parts.instruments[k]?.symbol === event.symbol ? withMissed(memory, event) : memory));
  }

  /** The venue was killed before it had written down what it told us last: that has not happened, and is told anew or not at all. */
  #hasForgotten(message: FollowedMessage): boolean {
    const lost = this.#heard.lost(message);
    if (lost === null) return false;
    const { epoch, lastReport } = this.memory;
    if (lost === 0) {
      this.#parts.happened({ memory: { epoch } });
      return false;
    }
    const { timeMs } = message;
    const text = `the venue was killed and has lost what it told after report ${lastReport} (${lost} of them): that is struck out`;
    this.#parts.happened({
      events: [{ ...errorEvent(timeMs, text, "venue", "connection"), cause: "connection" }],
      memory: { epoch, lastReport },
      lostAfter: lastReport,
    });
    void this.#recount(this.#heard.era);
    if (this.#isStarted) this.#startAgain(timeMs);
    return true;
  }

  async #recount(era: number): Promise<void> {
    let recorded: number;
    let trades: readonly Trade[];
    do {
      recorded = this.memory.trades;
      trades = await this.#parts.trades();
      // Case: it has lost more meanwhile.
      if (era !== this.#heard.era) return;
    } while (recorded !== this.memory.trades);
    this.memory.trades = trades.length;
    this.memory.net = trades.reduce((sum, { net }) => sum + net, 0);
    this.#today = new TodaysNet();
    this.recall(trades);
  }

  /** The venue has lost what it had not written down: the plan starts again with what it has. */
  #startAgain(timeMs: number): void {
    this.#tell(errorEvent(timeMs, "the venue has lost its last moments: its account is taken as it is, and the plan starts again"));
    this.#renew();
    this.#isStarted = false;
  }

  /** Orders that wait for a word get none any more. */
  #dropPrompts(reason: string): void {
    this.#tell(
      ...this.prompts.list.map(({ orderId }) => ({
        ...promptEvent(this.#nowMs, "policy", `order ${orderId} is not sent: ${reason}`),
        cause: "prompt" as const,
      })),
    );
    this.prompts.clear();
  }

  // --- another version ----------------------------------------------------------------------------------------------

  get #isFlat(): boolean {
    return !this.account?.books.some(({ lots }) => lots.length > 0);
  }

  /** How what would run differs from what runs. */
  readonly changesTo = ({ source, inputs }: WatchedPlan): string[] =>
    changesBetween(this.facts, { source, inputs, settings: this.facts.settings });

  /** Another version of the plan, or other inputs: at once, or when nothing is open any more (R8.6). */
  runInstead(plan: WatchedPlan, isNow: boolean): void {
    if (isNow || this.#isFlat) return this.#takeOver(plan, "user");
    this.memory.pending = plan;
    const text = `waits until nothing is open: ${this.changesTo(plan).join(", ")}`;
    this.#parts.happened({ events: [stateEvent(this.#nowMs, text, "user")], memory: { pending: plan } });
  }

  decline(hash: string): void {
    this.memory.declined = hash;
    this.memory.pending = null;
    const text = "the plan's new text is not taken: this watch goes on as it is";
    this.#parts.happened({ events: [stateEvent(this.#nowMs, text, "user")], memory: { declined: hash, pending: null } });
  }

  /** The plan's memory starts anew; position and working orders are handed over. */
  #takeOver(plan: WatchedPlan, by: string): void {
    const before = this.facts;
    const text = `a new version runs from here on: ${this.changesTo(plan).join(", ")}`;
    this.facts = { ...before, ...plan };
    this.memory.pending = null;
    this.#renew();
    this.#isStarted = this.#isStarting = false;
    this.#parts.happened({ events: [{ ...stateEvent(this.#nowMs, text, by), cause: "other version" }], memory: { pending: null }, plan });
    this.#parts.renewed(before, this.facts);
    // Case: the line is broken. It starts when it is there again.
    if (this.#isFollowed) this.#askWhatIs();
  }

  #takePending(): void {
    const { pending } = this.memory;
    if (pending && this.#isFlat && !this.hasEnded) this.#takeOver(pending, "policy");
  }

  /** Another process for the plan. */
  #renew(): void {
    this.#dropPrompts("the plan starts again");
    this.#plan?.silence();
    this.#plan?.kill("it starts again");
    this.#plan = this.#parts.plan((reason) => this.#died(reason));
  }

  async #start({ timeMs, report, lastReport }: FollowedMessage): Promise<void> {
    const { source, inputs } = this.facts;
    const plan = this.#plan!;
    const isResumed = lastReport > 0 || report.commandsDone > 0;
    let first: LiveAnswer | null;
    try {
      first = await plan.start(
        {
          ...{ source, inputs, settings: this.#parts.engine, nowMs: timeMs, account: report, lastReport, isResumed },
          ...{ patienceMs: this.#patienceMs, kit: this.memory.kit, ...this.#mode },
        },
        (bars) => this.#feeds(bars, timeMs),
      );
    } catch (error) {
      // Case: the venue went away meanwhile. It starts when the line is there again.
      const isAway = error instanceof PlanTesterError && error.code === "unavailable";
      if (plan === this.#plan && !isAway) this.#fail(`the plan could not be started: ${(error as Error).message}`);
      return;
    }
    if (!first || this.hasEnded || plan !== this.#plan) return;
    this.#isStarting = false;
    this.#isStarted = true;
    this.#answered(first, timeMs);
    if (first.wantsPrice) {
      plan.wantsPrice = true;
      this.#askWhatIs();
    }
    const isRestart = isResumed && !this.#hasRun;
    this.#hasRun = true;
    this.#tell(isResumed ? { ...stateEvent(timeMs, `resumed: ${this.state}`), cause: "restart" } : stateEvent(timeMs, this.state));
    if (isRestart) await this.#policy.restarted();
  }

  async #feeds(bars: number, nowMs: number): Promise<readonly LiveFeedData[]> {
    const feeds = await this.#parts.feeds(bars, nowMs);
    for (const { instrument, history, minutes } of feeds) {
      const price = minutes.close.at(-1) ?? history.close.at(-1);
      // What is open has a price before the next minute is over.
      if (price !== undefined && !this.#prices.has(instrument.symbol)) this.#prices.set(instrument.symbol, price);
    }
    return feeds;
  }

  /** The line was broken: the plan hears what it has missed, in order, with its age. */
  async #catchUp({ timeMs, report, lastReport, missed }: FollowedMessage): Promise<void> {
    const minutes = await this.#parts.minutes(this.lastTimeMs ?? timeMs, timeMs);
    const reports = (missed ?? []).map((past): VenueWord => ({ type: "report", ...past }));
    // At one time what happened on the account goes ahead of the bar that ends then.
    const words = [...reports, ...minutes].sort((a, b) => a.timeMs - b.timeMs);
    for (const word of words) await this.#hear(word, this.#parts.clock().nowMs - word.timeMs);
    if (missed === null) await this.#hear({ type: "account", timeMs, account: report, lastReport }, 0);
    const wasLong = this.#broken.mended();
    this.#tell({
      ...stateEvent(timeMs, `connected again; ${minutes.length} minute${minutes.length === 1 ? "" : "s"} made up for`),
      ...(wasLong && { alert: "connection" as const }),
    });
    if (wasLong) await this.#policy.lineIsBack();
  }

  // --- what the venue says ------------------------------------------------------------------------------------------

  /** Settles when the word has been answered and what the plan asked for has been sent. */
  async take(message: VenueWordMessage, waiting: number): Promise<void> {
    const word = ownWord(message, this.address, this.symbols);
    if (!word || (word.type === "report" && !this.#isNext(word.number))) return;
    await this.#ready;
    if ("account" in word && word.account) this.#line.confirm(word.account);
    const delayMs = Date.now() - message.saidMs;
    const { speed, holds } = this.#parts.clock();
    const isHeld = holds && waiting <= 1 && delayMs < HELD_MS;
    await this.#hear(word, isHeld ? 0 : delayMs * speed, message.saidMs);
  }

  /** The venue's clock is set otherwise: how late answers were before says nothing of now. */
  forgetLag(): void {
    this.#lag = new Lag();
  }

  /** Prices move inside a minute: what is open is worth that much now. */
  priced(minutes: readonly SymbolMinute[]): void {
    const { symbols } = this;
    for (const { symbol, bar } of minutes) if (symbols.includes(symbol)) this.#prices.set(symbol, bar.close);
  }

  /** Commands that the venue has not confirmed over some minutes may be lost: it is asked what it has, and gets them again. */
  #askWhereStalled(): void {
    this.#stalled = this.#line.waiting > 0 ? this.#stalled + 1 : 0;
    if (this.#stalled < STALLED_MINUTES) return;
    this.#stalled = 0;
    this.#askWhatIs();
  }

  /** Whether a report is the next one. One that was heard before changes nothing; where one is missing it is asked for. */
  #isNext(number: number): boolean {
    const missing = `report ${this.#heard.last + 1} of the venue is missing: it is asked for`;
    const judged = this.#heard.judge(number);
    if (judged === "gap") this.#tell({ ...stateEvent(this.#nowMs, missing), cause: "connection" });
    if (judged === "gap" || judged === "still a gap") this.#askWhatIs();
    return judged === "next";
  }

  async #hear(word: VenueWord, ageMs: number, saidMs = Date.now()): Promise<void> {
    if (word.type === "closing") {
      for (const { symbol, bar } of word.minutes) this.#prices.set(symbol, bar.close);
      this.lastTimeMs = word.timeMs;
      this.prompts.lapse(word.timeMs);
      this.#askWhereStalled();
    }
    if (word.type !== "report" && word.account) this.memory.held = word.account;
    const { speed, holds } = this.#parts.clock();
    const running = this.#isStarted && !this.hasEnded ? this.#plan : null;
    const { era } = this.#heard;
    const answer = running ? await running.hear({ word, ageMs, speed: holds && ageMs === 0 ? 0 : speed, sentMs: Date.now() }) : null;
    if (era !== this.#heard.era) return;
    if (answer?.kit) this.memory.kit = answer.kit;
    if (word.type === "report") {
      const raw = word.event.kind === "closed" ? [word.event.trade] : [];
      this.#record(word, word.timeMs, answer?.trades.length ? answer.trades : raw);
    } else if (answer?.kit) this.#parts.happened({ memory: { kit: answer.kit } });
    if (!answer) return;
    this.#lag.add(Date.now() - saidMs);
    if (word.type === "closing" && word.minutes.length > 0) this.#noteAge(answer.ageMs);
    this.#answered(answer, word.timeMs);
  }

  /** Says when bars begin to come too late for entries, and when they no longer do. */
  #noteAge(ageMs: number): void {
    const beforeMs = this.#ageMs ?? 0;
    const wasLate = beforeMs > this.#patienceMs;
    const isLate = ageMs > this.#patienceMs;
    this.#ageMs = ageMs;
    // Case: not too late for entries, but orders work a minute or more behind where a backtest has them.
    if (!isLate && !wasLate && ageMs > MINUTE_MS && beforeMs <= MINUTE_MS) {
      const behind = `the plan is ${Math.round(ageMs / 1000)} s behind the venue's clock: its orders work later`;
      this.#tell({ ...stateEvent(this.#nowMs, behind), cause: "lag" });
    }
    if (isLate === wasLate) return;
    const text = isLate
      ? `bars come ${Math.round(ageMs / 1000)} s late, of the venue's clock: no entries are sent until they come in time`
      : "bars come in time again";
    this.#tell({ ...stateEvent(this.#nowMs, text), alert: "lag", cause: "lag" });
  }

  /** Writes a report of the venue down, once. */
  #record(report: EventReport, timeMs: number, trades: readonly Trade[]): void {
    if (report.number <= this.memory.lastReport) return;
    const instrument = this.#instrument(report.event.symbol);
    this.#hold(report.account, report.number);
    this.memory.trades += trades.length;
    for (const trade of trades) {
      this.memory.net += trade.net;
      this.#today.count(trade, instrument);
    }
    this.#parts.happened({
      events: reportEvents(report.event, instrument, this.currency, timeMs),
      trades,
      memory: { lastReport: report.number, held: report.account, kit: this.memory.kit },
    });
    this.#policy.reported(report);
    // Parts of a position that close one after the other are one round.
    if (trades.length > 0 && this.#isFlat) {
      this.#rounds++;
      this.#endAfterRounds();
    }
    this.#takePending();
  }

  #hold(report: AccountReport, lastReport: number): void {
    this.memory.held = report;
    this.memory.lastReport = Math.max(this.memory.lastReport, lastReport);
  }

  #instrument(symbol: string): Instrument {
    return this.#parts.instruments.find((instrument) => instrument.symbol === symbol) ?? this.#parts.instruments[0]!;
  }

  get currency(): string {
    return this.#parts.engine.currency || this.#parts.instruments[0]!.currency;
  }

  #endAfterRounds(): void {
    const { rounds } = this.memory.options;
    if (rounds !== null && !this.hasEnded && this.#rounds >= rounds)
      void this.end(`${rounds} round${rounds === 1 ? " is" : "s are"} done`, "protected", "watch");
  }

  // --- what the plan says -------------------------------------------------------------------------------------------

  #answered(answer: LiveAnswer, timeMs: number): void {
    const { commands, log, failure, figures, asked, held } = answer;
    this.#line.send(commands);
    this.figures = figures;
    if (held.length > 0 || commands.some(({ kind }) => kind === "submit")) this.#lastSignalMs = timeMs;
    const fresh = this.prompts.take(
      asked,
      timeMs,
      this.memory.options.promptMinutes * 60_000,
      nominalMs(this.facts.settings.timeframe),
      ({ symbol }) => ({ instrument: this.#instrument(symbol), pointMoney: this.#pointMoney(symbol) }),
    );
    this.#tell(
      ...log.map(logEvent),
      ...held.map((one) => signalEvent(one, one.cause === "mode" ? this.#modeCause : one.cause, this.#instrument(one.symbol), timeMs)),
      ...fresh.map(({ line, words }) => askEvent(timeMs, line, words)),
      ...commands.map((command) => commandEvent(command, this.#instrument(command.symbol), timeMs)),
    );
    if (failure) this.#fail(`the plan failed${failure.line ? ` on line ${failure.line}` : ""}: ${failure.message}`);
  }

  #died(reason: string): void {
    this.#fail(`the plan was stopped: ${reason}`);
  }

  /** The plan can't go on: entries that wait are cancelled, what protects a position stays. */
  #fail(reason: string): void {
    if (this.hasEnded) return;
    this.#tell(errorEvent(this.#nowMs, reason));
    void this.end(reason, this.memory.options.onPlanFailure === "flatten" ? "flatten" : "protected", "policy");
  }

  // --- what the user asks -------------------------------------------------------------------------------------------

  get #patienceMs(): number {
    const { patienceSeconds } = this.memory.options;
    return patienceSeconds === null ? Math.max(10_000, nominalMs(this.facts.settings.timeframe) / 2) : patienceSeconds * 1000;
  }

  get #noEntries(): string {
    if (this.memory.isPaused) return "the watch is paused";
    return this.memory.options.mode === "alerts only" ? "alerts only: nothing is sent" : "";
  }

  get #modeCause(): "paused" | "alerts only" {
    return this.memory.isPaused ? "paused" : "alerts only";
  }

  get #mode(): LiveMode {
    const { mode, asksExits, onEntryRefused, entryRetries, onExitRefused } = this.memory.options;
    return {
      noEntries: this.#noEntries,
      askFor: mode !== "ask first" ? "nothing" : asksExits ? "everything" : "entries",
      retries: {
        entries: onEntryRefused === "retry" ? entryRetries : 0,
        exits: onExitRefused === "retry" ? Number.POSITIVE_INFINITY : 0,
      },
    };
  }

  change({ name, isPaused, options }: { readonly name?: string; readonly isPaused?: boolean; readonly options?: WatchOptions }): void {
    const events: NewEvent[] = [];
    if (name !== undefined && name !== this.memory.name) {
      events.push(stateEvent(this.#nowMs, `renamed from "${this.memory.name}" to "${name}"`, "user"));
      this.memory.name = name;
    }
    if (isPaused !== undefined && isPaused !== this.memory.isPaused) {
      events.push(stateEvent(this.#nowMs, isPaused ? "paused: no new entries, exits go on" : "entries are sent again", "user"));
      this.memory.isPaused = isPaused;
    }
    if (options) {
      const { mode } = this.memory.options;
      this.memory.options = { ...options, account: this.memory.options.account };
      this.#hasDrifted = false;
      if (options.mode !== mode) events.push(stateEvent(this.#nowMs, `mode: ${mode} to ${options.mode}`, "user"));
    }
    this.#plan?.mode(this.#mode);
    const { name: now, options: kept, isPaused: paused } = this.memory;
    this.#parts.happened({ events, memory: { name: now, options: kept, isPaused: paused } });
  }

  /**
   * @param isLate whether the user knows that the order's bar is over
   * @throws PlanTesterError conflict where it was answered before, has lapsed, or is late without that
   */
  answer(orderId: number, isAccepted: boolean, isLate = false): void {
    const prompt = this.prompts.find(orderId);
    if (!prompt) throw new PlanTesterError("conflict", "That order no longer waits: it was answered, or it has lapsed.", { orderId });
    if (isAccepted && !isLate && this.#nowMs >= prompt.barOverMs)
      throw new PlanTesterError(
        "conflict",
        "The bar of that order is over: the price it was meant for may be gone. Accept it as late, or decline it.",
        {
          orderId,
        },
      );
    const event = promptEvent(this.#nowMs, "user", `order ${orderId} ${isAccepted ? "accepted" : "declined"}`);
    // One that is accepted is sent later than the plan meant.
    this.#tell({ ...event, cause: "prompt" });
    this.prompts.answer(orderId, isAccepted, isAccepted ? "" : "declined by you");
  }

  #settle(orderId: number, isAccepted: boolean, note: string): void {
    const running = this.#plan;
    if (!isAccepted && note.startsWith("lapsed"))
      this.#tell({ ...promptEvent(this.#nowMs, "policy", `order ${orderId} ${note}`), cause: "prompt" });
    void running?.settle(orderId, isAccepted, note).then((answer) => {
      if (answer) this.#answered(answer, this.#nowMs);
    });
  }

  /** Ends the watch. The plan hears of it; what becomes of what is open is as asked (R8.5). */
  async end(reason: string, leaving: Leaving, by: string): Promise<void> {
    if (this.hasEnded) return;
    const plan = this.#plan;
    const last = this.#isStarted ? await plan?.end() : null;
    if (this.hasEnded) return;
    if (last) this.#line.send(last.commands);
    this.memory.hasEnded = true;
    this.memory.endReason = reason;
    this.#plan = null;
    plan?.kill(reason);
    this.#dropPrompts("the watch has ended");
    this.#parts.happened({
      events: [
        ...(last?.log.map(logEvent) ?? []),
        {
          ...stateEvent(this.#nowMs, `ended: ${reason}`, by),
          ...(by === "user" ? { cause: "by hand" as const } : { alert: "ended" as const, cause: "policy" as const }),
        },
      ],
      memory: { hasEnded: true, endReason: reason },
    });
    if (leaving === "flatten") await this.flatten(by);
    else this.#leave(leaving === "bare", by);
  }

  /** What is left at the venue when the plan is gone: positions with what protects them, or bare. */
  #leave(isBare: boolean, by: string): void {
    if (!this.account) return;
    const { commands, left } = leaving(this.account, isBare);
    this.#line.send(commands);
    this.#tell(
      ...commands.map((command) => commandEvent(command, this.#instrument(command.symbol), this.#nowMs)),
      ...left.map(({ text, isBare: hasNone }) => (hasNone ? errorEvent : stateEvent)(this.#nowMs, text, by)),
    );
  }

  async flatten(by: string): Promise<void> {
    if (!this.holds) return;
    const cause = by === "user" ? "by hand" : "policy";
    this.#tell({ ...stateEvent(this.#nowMs, "orders are cancelled and what is open is closed at the next price", by), cause });
    try {
      await this.#parts.venue.flatten(this.address.account, this.address.owner);
    } catch (error) {
      if (by === "user") throw error;
      this.#owesClose = true;
      this.#tell(errorEvent(this.#nowMs, `not closed yet: ${messageOf(error)} It is tried again when the venue answers.`, by));
    }
  }

  async cancel(orderId: number): Promise<void> {
    const { done } = await this.#parts.venue.cancel(this.address.account, this.address.owner, orderId);
    if (!done) throw new PlanTesterError("conflict", `Order ${orderId} no longer works.`, { orderId });
  }

  /** For a closing server: the watch goes on when it starts again. */
  suspend(): void {
    this.#dropPrompts("the server closed while it waited for your word");
    this.#broken.close();
    const plan = this.#plan;
    this.#plan = null;
    this.#isStarted = false;
    plan?.silence();
    plan?.kill("the server is closing");
  }

  // --- how it is ----------------------------------------------------------------------------------------------------

  #positions(): WatchPosition[] {
    return positionsOf(
      this.account ?? { books: [], cash: 0, commandsDone: 0, lastOrderId: 0 },
      (symbol) => this.#pointMoney(symbol),
      (symbol) => this.#prices.get(symbol),
    );
  }

  #pointMoney(symbol: string): number {
    const { instruments, engine } = this.#parts;
    return pointMoneyAt(symbol, instruments, engine, (other) => this.#prices.get(other));
  }

  summary(): Omit<WatchSummary, "alerts"> {
    const { id, planId, planTitle, settings, inputs, createdMs } = this.facts;
    const { name, options, isPaused, endReason, trades, net } = this.memory;
    const positions = this.#positions();
    const openProfit = positions.reduce((sum, { profit }) => sum + profit, 0);
    const [main] = this.#parts.instruments;
    return {
      ...{ id, name, planId, planTitle, settings, inputs, options, isPaused, state: this.state, endReason, createdMs },
      ...{ currency: this.currency, equity: (this.account?.cash ?? settings.cash) + openProfit, positions, openProfit },
      ...{ lastPrice: this.#prices.get(settings.symbol) ?? null, lastTimeMs: this.lastTimeMs, trades, net },
      ...{ netToday: this.#today.at(this.#nowMs, main!), prompts: this.prompts.list, lagMs: this.#lag.last, slowLagMs: this.#lag.slow },
      ...{ ageMs: this.#ageMs, lastSignalMs: this.#lastSignalMs },
    };
  }

  /** Something about the venue that belongs into its log. */
  note(text: string, by = "venue"): void {
    this.#tell(stateEvent(this.#nowMs, text, by));
  }

  /** What it made differs from the backtest of the same bars beyond its limit: told when it comes to that, not again while it lasts. */
  drifted(money: number, causes: string): void {
    if (this.#hasDrifted) return;
    this.#hasDrifted = true;
    const text = `drift: ${money.toFixed(2)} ${this.currency} against the backtest of the same bars (${causes}); the limit is ${this.memory.options.driftLimit}`;
    this.#tell({ ...stateEvent(this.#nowMs, text), alert: "drift" });
  }

  /** What its chart shows; null where no plan runs. */
  async view(lookedAt: LookedAt): Promise<LiveViewed | null> {
    return this.#isStarted && !this.hasEnded ? ((await this.#plan?.view(lookedAt)) ?? null) : null;
  }

  get workingOrders(): WatchOrder[] {
    return this.account ? ordersOf(this.account) : [];
  }
}
