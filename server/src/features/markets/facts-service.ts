/** Facts, costs and calendars of instruments: changed by their user, with those of before kept for the runs that were made with them. */
import { type FoundSessions, type InstrumentFile, readInstrument } from "@plan-tester/contract";
import { type Instrument, layOutSessions, PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { BarSetEntity, InstrumentEntity } from "../../db/entities.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { BarRepository } from "./bar-repository.ts";
import { keepFacts } from "./facts.ts";
import type { MarketService } from "./market-service.ts";

/** Zones in which sessions are looked for where nothing else is known: every offset, with and without daylight saving. */
const ZONES = [
  "UTC",
  "Atlantic/Faroe",
  "Europe/Berlin",
  "Europe/Athens",
  "America/New_York",
  "America/Chicago",
  "Asia/Tokyo",
  "Asia/Kolkata",
  "Australia/Sydney",
];

export class FactsService {
  readonly #database: Database;
  readonly #bars: BarRepository;
  readonly #markets: MarketService;
  readonly #thread: WorkThread;

  constructor(database: Database, bars: BarRepository, markets: MarketService, thread: WorkThread) {
    this.#database = database;
    this.#bars = bars;
    this.#markets = markets;
    this.#thread = thread;
  }

  /** @throws PlanTesterError not-found, bad-calendar, conflict for another symbol: nothing has changed then */
  async change(symbol: string, file: InstrumentFile): Promise<void> {
    if (file.symbol !== symbol)
      throw new PlanTesterError(
        "conflict",
        `The symbol of ${symbol} stays as it is: runs and plans name it. Import the bars under another.`,
        {
          symbol,
        },
      );
    const before = await this.#markets.instrument(symbol);
    const after = readInstrument(file);
    const set = await this.#bars.setOf(symbol);
    if (set) checkSessions(after, set.firstMs, set.lastMs);
    await this.#database.write(async (manager) => {
      await keepFacts(manager, before, after, Date.now());
      await manager.update(InstrumentEntity, { symbol }, { facts: after });
      // Its sessions may be others.
      await manager.update(BarSetEntity, { symbol }, { thumbnail: null });
    });
    this.#markets.changed(symbol);
  }

  /** The sessions that the bars show, and how well those of other instruments fit them. */
  async findSessions(symbol: string): Promise<FoundSessions> {
    const { series, instrument } = await this.#markets.base(symbol);
    const known = (await this.#markets.calendars()).filter((one) => one.symbol !== symbol);
    const zones = [instrument.calendar.zone, ...known.map(({ calendar }) => calendar.zone), ...ZONES];
    return this.#thread.findSessions({ series, zones: [...new Set(zones)], known });
  }
}

/** @throws PlanTesterError bad-calendar where sessions overlap, or none covers the bars */
function checkSessions({ symbol, calendar }: Instrument, firstMs: number, lastMs: number): void {
  const { parts, dates } = layOutSessions(calendar, firstMs, Math.min(lastMs + 1, firstMs + 400 * 86_400_000));
  if (dates.length === 0)
    throw new PlanTesterError(
      "bad-calendar",
      `No session of this calendar covers the bars of ${symbol}. Check the zone and the weekly sessions.`,
      {},
    );
  for (let p = 1; p < parts.openMs.length; p++)
    if (parts.openMs[p]! < parts.closeMs[p - 1]!)
      throw new PlanTesterError(
        "bad-calendar",
        `Two sessions overlap: one is open until ${at(parts.closeMs[p - 1]!)}, the next opens at ${at(parts.openMs[p]!)} (UTC). Let one close before the next opens.`,
        {},
      );
}

const at = (ms: number): string => new Date(ms).toISOString().slice(0, 16).replace("T", " ");
