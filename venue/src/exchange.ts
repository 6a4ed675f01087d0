/**
 * The simulated exchange: markets, accounts and the clock that moves them from one moment to the next. Everything is done in
 * order and told before the next thing; it knows nothing of networks or of real time.
 */

import { randomUUID } from "node:crypto";
import { isDeepStrictEqual } from "node:util";
import type { OtherTrade, PriceJump, VenueFaults } from "@plan-tester/contract";
import {
  type BarColumns,
  costsIn,
  type EngineSettings,
  type EventReport,
  type Hindrance,
  type Instrument,
  LEGS,
  MINUTE_MS,
  MinuteAccount,
  type MinuteAccountSnapshot,
  minuteSoFar,
  PlanTesterError,
} from "@plan-tester/core";
import { FaultCounts } from "./fault-counts.ts";
import { type Jump, Markets } from "./markets.ts";
import type { Address, ClientMessage, FollowedMessage, OwnerHolding, OwnerReport, SymbolMinute, VenueMessage } from "./protocol.ts";

/** How many of the next orders are refused or cut. */
export type OrderFaults = Pick<VenueFaults, "refuseEntries" | "refuseExits" | "halveEntries">;

/** What an account is opened with. */
export interface AccountFacts {
  readonly id: string;
  readonly instruments: readonly Instrument[];
  readonly settings: EngineSettings;
  /** Closes of this timeframe are those at which equity is looked at (R5.5, R5.6). */
  readonly timeframe: string;
}

export interface AccountState extends AccountFacts {
  readonly snapshot: MinuteAccountSnapshot;
  /** The last reports to each owner. */
  readonly reports: readonly (readonly [string, readonly KeptReport[]])[];
}

export interface ExchangeState {
  readonly nowMs: number;
  /** How many legs of their paths the minutes under way have gone; null where none is. */
  readonly legs: number | null;
  readonly accounts: readonly AccountState[];
  readonly jumps: readonly Jump[];
}

/** Reports kept for a client that comes back. */
const KEPT_REPORTS = 100;

type KeptReport = EventReport & { readonly timeMs: number };
/** A word before it has its number. */
export type Unnumbered<M = VenueMessage> = M extends { readonly seq: number } ? Omit<M, "seq" | "saidMs"> : never;

interface Kept {
  readonly facts: AccountFacts;
  readonly account: MinuteAccount;
  readonly reports: Map<string, KeptReport[]>;
  /** Owners who are told of each price inside a minute. */
  readonly wantPrices: Set<string>;
  /** Number of the last report of each owner when the venue started; null where the account was opened since. */
  readonly restored: ReadonlyMap<string, number> | null;
}

/** Instruments that are asked for and that an account does not trade yet. */
const missingOn = ({ facts }: Kept, { instruments }: AccountFacts): Instrument[] =>
  instruments.filter(({ symbol }) => !facts.instruments.some((own) => own.symbol === symbol));

/** Names one owner on one account. */
export const keyOf = ({ account, owner }: Address): string => `${account} ${owner}`;

export class Exchange {
  /** The last open or close. */
  nowMs: number;
  /** Whether minutes go along their paths in steps while they are under way; else at their end. */
  walksInSteps = true;
  /** How many legs of their paths the minutes under way have gone. */
  #legs: number;
  #isStepping = false;
  /** Takes up the next account of those that something is done on; null between. */
  #next: (() => boolean) | null = null;
  /** How many of the next orders that plans send, entries and exits told apart, are refused or cut. */
  readonly orderFaults = new FaultCounts<OrderFaults>({ refuseEntries: 0, refuseExits: 0, halveEntries: 0 });
  /** Whether an account has changed since this was last set to false. */
  isDirty = false;
  readonly #markets: Markets;
  readonly #hindrance: Hindrance = {
    refusal: ({ intent }) =>
      this.orderFaults.takes(intent === "exit" ? "refuseExits" : "refuseEntries")
        ? "the venue does not take it (a fault for practice)"
        : "",
    cuts: ({ intent, quantity }) => intent !== "exit" && Number.isFinite(quantity) && this.orderFaults.takes("halveEntries"),
  };
  readonly #accounts = new Map<string, Kept>();
  readonly #epoch = randomUUID();
  readonly #say: (word: Unnumbered) => void;
  /** Owners of whom a client wants to know. */
  readonly #followed = new Map<string, Address>();

  /** @param say returns once the word has been answered, where somebody has to. */
  constructor(state: ExchangeState, say: (word: Unnumbered) => void) {
    this.nowMs = state.nowMs;
    this.#say = say;
    this.#legs = state.legs ?? 0;
    this.#markets = new Markets(state.nowMs, state.legs !== null, state.jumps);
    for (const { snapshot, reports, ...facts } of state.accounts) this.#open(facts, snapshot, reports);
  }

  state(): ExchangeState {
    return {
      ...{ nowMs: this.nowMs, legs: this.#markets.isAnyOpen ? this.#legs : null, jumps: this.#markets.jumps },
      accounts: [...this.#accounts.values()].map(({ facts, account, reports }) => ({
        ...facts,
        snapshot: account.snapshot(),
        reports: [...reports],
      })),
    };
  }

  // --- accounts -----------------------------------------------------------------------------------------------------

  /** Opens an account; one that is there is left as it is, and trades what is asked for from now on as well. */
  openAccount(facts: AccountFacts): void {
    const known = this.#accounts.get(facts.id);
    if (!known) this.#open(facts);
    else {
      const { limits } = facts.settings;
      if (limits && !isDeepStrictEqual(limits, known.facts.settings.limits ?? null))
        throw new PlanTesterError(
          "conflict",
          `The account "${facts.id}" has other limits on losses than are asked for. They are those of its first watch: use an account of its own, or the same limits.`,
          { id: facts.id },
        );
      const missing = missingOn(known, facts);
      if (missing.length > 0) this.#widen(known, missing, facts);
    }
    this.isDirty = true;
  }

  /** Whether something is being done on the account, so that it can't be given further instruments before that is over. */
  mustWait(facts: AccountFacts): boolean {
    const known = this.#accounts.get(facts.id);
    return this.#isStepping && known !== undefined && missingOn(known, facts).length > 0;
  }

  /** Further instruments on an account: what it has goes on as it was. */
  #widen({ facts, account, reports, wantPrices, restored }: Kept, missing: readonly Instrument[], { settings }: AccountFacts): void {
    const costs = Object.fromEntries(missing.map(({ symbol }) => [symbol, costsIn(settings, symbol)]));
    const wider: AccountFacts = {
      ...facts,
      instruments: [...facts.instruments, ...missing],
      settings: {
        ...facts.settings,
        currency: facts.settings.currency || facts.instruments[0]!.currency,
        conversions: { ...settings.conversions, ...facts.settings.conversions },
        costsBySymbol: { ...facts.settings.costsBySymbol, ...costs },
      },
    };
    this.#open(wider, account.snapshot(), [...reports]);
    // Only a start of the venue itself brings reports back that their owners may have missed.
    this.#accounts.set(facts.id, { ...this.#kept(facts.id), restored, wantPrices });
    this.#listenToPrices(facts.id);
  }

  #open(facts: AccountFacts, snapshot?: MinuteAccountSnapshot, kept: AccountState["reports"] = []): void {
    for (const { symbol } of facts.instruments)
      if (!this.#markets.open(symbol))
        throw new PlanTesterError(
          "not-found",
          `The practice venue does not trade ${symbol}; it trades the instruments of the Sundrey Isles.`,
          {},
        );
    const reports = new Map(kept.map(([owner, list]) => [owner, [...list]]));
    const account = new MinuteAccount(
      { ...facts, nowMs: this.nowMs, priceBefore: (symbol, timeMs) => this.#markets.open(symbol)?.priceBefore(timeMs) ?? Number.NaN },
      (owner, report, timeMs) => {
        this.isDirty = true;
        const kept = reports.get(owner) ?? [];
        reports.set(owner, kept);
        kept.push({ ...report, timeMs });
        if (kept.length > KEPT_REPORTS) kept.splice(0, kept.length - KEPT_REPORTS);
        this.#say({ type: "report", timeMs, to: { account: facts.id, owner }, ...report });
      },
      snapshot,
    );
    account.hindrance = this.#hindrance;
    const restored = snapshot ? new Map(account.owners.map((owner) => [owner, account.lastReport(owner)])) : null;
    this.#accounts.set(facts.id, { facts, account, reports, wantPrices: new Set(), restored });
  }

  closeAccount(id: string): void {
    this.#accounts.delete(id);
    this.isDirty = true;
  }

  #kept(id: string): Kept {
    const kept = this.#accounts.get(id);
    if (!kept) throw new PlanTesterError("not-found", `The venue has no account "${id}".`, { id });
    return kept;
  }

  /** What every owner has open and waiting. */
  holdings(): OwnerHolding[] {
    return [...this.#accounts.values()].flatMap(({ facts, account }) =>
      account.owners.map((owner) => ({
        ...{ account: facts.id, owner, report: account.report(owner), equity: account.account.equity },
      })),
    );
  }

  /** Minutes that are open, as far as they have gone. */
  forming(): SymbolMinute[] {
    return this.#markets.underWay().map(({ symbol, bar }) => ({ symbol, bar: minuteSoFar(bar, this.#legs) }));
  }

  /** Finished minutes of a market from a time on. */
  bars(symbol: string, fromMs: number): BarColumns {
    const market = this.#markets.open(symbol);
    if (!market) throw new PlanTesterError("not-found", `The venue does not trade ${symbol}.`, {});
    return market.finished(fromMs);
  }

  // --- what clients ask ---------------------------------------------------------------------------------------------

  follow({ account: id, owner, after, prices }: Extract<ClientMessage, { type: "follow" }>): FollowedMessage {
    const { account, reports, wantPrices, restored } = this.#kept(id);
    this.#followed.set(keyOf({ account: id, owner }), { account: id, owner });
    if (prices) wantPrices.add(owner);
    else wantPrices.delete(owner);
    this.#listenToPrices(id);
    const lastReport = account.lastReport(owner);
    const kept = reports.get(owner) ?? [];
    const missed = kept.filter(({ number }) => number > after);
    const isWhole = after <= lastReport && missed.length === lastReport - after;
    return {
      ...{ type: "followed", account: id, owner, timeMs: this.nowMs, lastReport, epoch: this.#epoch },
      restored: restored ? (restored.get(owner) ?? 0) : null,
      report: account.report(owner),
      missed: isWhole ? missed : null,
    };
  }

  leave(address: Address): void {
    this.#followed.delete(keyOf(address));
    this.#accounts.get(address.account)?.wantPrices.delete(address.owner);
    this.#listenToPrices(address.account);
  }

  #listenToPrices(id: string): void {
    const kept = this.#accounts.get(id);
    if (!kept) return;
    const { account, wantPrices } = kept;
    account.listenToPrices(
      wantPrices.size === 0
        ? null
        : (symbol, timeMs, price) =>
            this.#say({
              ...{ type: "price", timeMs, symbol, price },
              accounts: [...wantPrices].map((owner) => ({ account: id, owner, report: account.report(owner) })),
            }),
    );
  }

  /** Does commands of an owner; those that were done before are passed over. @returns why they were not taken, or null */
  command({ account: id, owner, first, commands }: Extract<ClientMessage, { type: "commands" }>): VenueMessage | null {
    const kept = this.#accounts.get(id);
    if (!kept) return { type: "refused", account: id, owner, awaited: 0, reason: `there is no account "${id}"` };
    const { account } = kept;
    const awaited = account.commandsDone(owner) + 1;
    if (first > awaited) return { type: "refused", account: id, owner, awaited, reason: `command ${awaited} is awaited, ${first} came` };
    commands.forEach((command, k) => {
      account.command(owner, first + k, command);
    });
    this.#settle(kept);
    return null;
  }

  /** By hand: cancels one order, or everything of an owner and closes what is open. */
  cancel(id: string, owner: string, orderId: number): boolean {
    this.isDirty = true;
    return this.#kept(id).account.cancelByHand(owner, orderId, "cancelled by hand");
  }

  flatten(id: string, owner: string, only: "everything" | "others" = "everything"): void {
    const kept = this.#kept(id);
    const { account, facts } = kept;
    for (const { symbol } of facts.instruments)
      if (only === "others") account.closeOthers(owner, symbol, "not the plan's: closed");
      else account.closeByHand(owner, symbol, "closed by hand");
    this.#settle(kept);
  }

  /** Something else than a plan trades under an owner's name, at market. */
  trade(id: string, owner: string, { symbol, side, quantity }: OtherTrade): void {
    const kept = this.#kept(id);
    const { account, facts } = kept;
    if (!facts.instruments.some((one) => one.symbol === symbol))
      throw new PlanTesterError("not-found", `The account "${id}" does not trade ${symbol}.`, { symbol });
    account.tradeByOther(owner, symbol, side, quantity);
    this.#settle(kept);
  }

  /** The price of an instrument jumps, for practice. */
  jump({ symbol, percent }: PriceJump): void {
    const market = this.#markets.open(symbol);
    if (!market) throw new PlanTesterError("not-found", `The venue does not trade ${symbol}.`, { symbol });
    market.jump(1 + percent / 100);
    this.isDirty = true;
  }

  // --- the clock ----------------------------------------------------------------------------------------------------

  /** When something happens next; Infinity while no market is open. */
  get nextMs(): number {
    const { nextMs } = this.#markets;
    const turnMs = this.nowMs + ((this.#legs + 1) * MINUTE_MS) / LEGS;
    return this.walksInSteps && this.#markets.isAnyOpen && turnMs < nextMs ? turnMs : nextMs;
  }

  /** The next moment: a turning point of the paths under way, or paths that end at it, closes, opens (R2). */
  step(): void {
    const { nextMs } = this;
    this.#isStepping = true;
    if (nextMs < this.#markets.nextMs) this.#turn();
    else this.#moment(nextMs);
    this.#isStepping = false;
  }

  #turn(): void {
    this.#legs++;
    this.#onEach((account) => account.walk(this.#markets.nextMs, this.#legs));
  }

  #moment(timeMs: number): void {
    this.nowMs = timeMs;
    this.#legs = 0;
    const closing: SymbolMinute[] = this.#markets.closeBy(timeMs);
    this.#onEach((account) => account.walk(timeMs));
    this.#onEach((account) => account.close(timeMs));
    if (closing.length > 0) this.#say({ type: "closing", timeMs, minutes: closing, accounts: this.#reports() });
    const opening = this.#markets.openAt(timeMs);
    if (opening.size === 0) return;
    this.#onEach((account) => account.opening(timeMs, opening));
    this.#say({ type: "opening", timeMs, symbols: [...opening.keys()], accounts: this.#reports() });
    this.#onEach((account) => account.fillOpens(timeMs));
  }

  #onEach(act: (account: MinuteAccount) => void): void {
    const rest = this.#accounts.entries();
    this.#next = () => {
      const { value } = rest.next();
      if (value) act(value[1].account);
      return value !== undefined;
    };
    while (this.#next());
    this.#next = null;
  }

  /**
   * While what was said of one account waits for its answer another one goes on, from where it stands to the end of what is
   * being done on all: accounts have nothing to do with each other. @returns whether there was one left
   */
  goOn(): boolean {
    return this.#next?.() ?? false;
  }

  /** What was asked for between two moments works from where price stands. */
  #settle({ account }: Kept): void {
    this.isDirty = true;
    if (!this.#isStepping) account.settle();
  }

  /** Accounts of those who have something open or waiting: stops move, nights are charged, without an event. */
  #reports(): OwnerReport[] {
    const reports: OwnerReport[] = [];
    for (const { account: id, owner } of this.#followed.values()) {
      const kept = this.#accounts.get(id);
      if (!kept || kept.account.isIdle(owner)) continue;
      reports.push({ account: id, owner, report: kept.account.report(owner) });
    }
    return reports;
  }
}
