/** What watches do, written down in order: each entry until it is written, whatever the disk says. */
import { type EventsQuery, levelsFrom, type WatchEvent, type WatchEventsPage } from "@plan-tester/contract";
import type { Trade } from "@plan-tester/core";
import type { Background } from "../../background.ts";
import type { WatchRow } from "../../db/entities.ts";
import type { ToldTrade, WatchRepository } from "./watch-repository.ts";
import type { WatchNews } from "./watch-types.ts";

interface Entry {
  readonly id: string;
  readonly events: readonly Omit<WatchEvent, "id">[];
  readonly trades: readonly ToldTrade[];
  readonly row: Partial<WatchRow>;
  readonly lostAfter: number | null;
}

/** Entries of one watch that are written in one go. */
const MOST_AT_ONCE = 200;

export class WatchJournal {
  readonly #repository: WatchRepository;
  readonly #background: Background;
  /** What is not written down yet, oldest first. */
  #unwritten: Entry[] = [];
  #line: Promise<unknown> = Promise.resolve();
  #isWriting = false;

  constructor(repository: WatchRepository, background: Background) {
    this.#repository = repository;
    this.#background = background;
  }

  note(id: string, { events = [], trades = [], memory = {}, plan = undefined, lostAfter }: WatchNews): void {
    const atMs = Date.now();
    const { hasEnded, ...rest } = memory;
    const row = { ...rest, ...plan, ...(hasEnded === undefined ? {} : { state: hasEnded ? "ended" : "armed" }) };
    const { lastReport: report = 0 } = memory;
    this.#unwritten.push({
      ...{ id, row, lostAfter: lostAfter ?? null },
      events: events.map(({ alert: _alert, cause = "", ...event }) => ({ ...event, cause, atMs })),
      trades: trades.map((trade) => ({ trade, report })),
    });
    if (this.#isWriting) return;
    this.#isWriting = true;
    this.#line = this.#line.then(() => this.#write());
  }

  async #write(): Promise<void> {
    while (this.#unwritten.length > 0) {
      const [first] = this.#unwritten as [Entry];
      // What came together of one watch is one write; what strikes something out comes first in its own.
      let count = 1;
      const goesWith = ({ id, lostAfter }: Entry): boolean => id === first.id && lostAfter === null;
      while (count < Math.min(MOST_AT_ONCE, this.#unwritten.length) && goesWith(this.#unwritten[count]!)) count++;
      const entries = this.#unwritten.slice(0, count);
      const { id } = first;
      const isDone = await this.#background.insist("the journal of a watch was not saved", { watch: id }, () =>
        this.#repository.record(
          id,
          entries.flatMap(({ events }) => events),
          entries.flatMap(({ trades }) => trades),
          Object.assign({}, ...entries.map(({ row }) => row)),
          first.lostAfter,
        ),
      );
      if (!isDone) break;
      this.#unwritten = this.#unwritten.slice(count);
    }
    this.#isWriting = false;
  }

  /** Newest first. What is not written down yet has numbers below 0. */
  async events(id: string, query: EventsQuery): Promise<WatchEventsPage> {
    const levels = query.level === "" ? null : levelsFrom(query.level);
    const fits = ({ kind, level, text }: Omit<WatchEvent, "id">): boolean =>
      (query.kind === "" || kind === query.kind) &&
      (!levels || levels.some((one) => one === level)) &&
      text.toLowerCase().includes(query.search.toLowerCase());
    const unwritten = this.#unwritten.flatMap((entry) => (entry.id === id ? entry.events.filter(fits) : []));
    const stored = await this.#repository.events(id, query);
    const { total, events } = stored;
    if (query.offset > 0) return { total: total + unwritten.length, events };
    const fresh = unwritten.map((event, k) => ({ ...event, id: -1 - k })).reverse();
    return { total: total + unwritten.length, events: [...fresh, ...events].slice(0, query.limit) };
  }

  /** Trades that are not written down yet. */
  trades(id: string): readonly Trade[] {
    return this.#unwritten.flatMap((entry) => (entry.id === id ? entry.trades.map(({ trade }) => trade) : []));
  }

  /** Settles when what can be written is written. */
  async settled(): Promise<void> {
    await this.#line;
  }
}
