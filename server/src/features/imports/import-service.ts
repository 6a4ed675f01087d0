/** Imports a user's own bars or ticks: a file into an instrument of its own, or to the bars it has, with a report of what was left out and why. */
import { Worker } from "node:worker_threads";
import { type ImportMapping, type ImportReport, type ImportRequest, readInstrument } from "@plan-tester/contract";
import {
  type BarColumns,
  type Overlap,
  type OverlapChoice,
  type ParsedBars,
  PlanTesterError,
  plainLayout,
  timeframeLabel,
} from "@plan-tester/core";
import { bundleOf } from "@plan-tester/demo/root";
import type { Bin } from "../../db/bin.ts";
import type { Database } from "../../db/database.ts";
import { type BarSetRow, ImportMappingEntity, InstrumentEntity, type InstrumentRow } from "../../db/entities.ts";
import type { EventStream } from "../../http/events.ts";
import { InTurn } from "../../in-turn.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { BarRepository } from "../markets/bar-repository.ts";
import { factsAfterImport, forgetPast, keepFacts } from "../markets/facts.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { RepairService } from "../markets/repair-service.ts";

type FromWorker =
  | { readonly type: "progress"; readonly done: number; readonly total: number }
  | { readonly type: "parsed"; readonly parsed: ParsedBars }
  | { readonly type: "refused"; readonly code: PlanTesterError["code"]; readonly text: string };

/** The reading thread: the bundle beside this one, or its source when running unbundled. */
function startWorker(workerData: unknown): Worker {
  const bundled = bundleOf("import-worker.js", import.meta.url);
  if (bundled) return new Worker(bundled, { workerData });
  const source = new URL("import-worker.ts", import.meta.url).href;
  return new Worker(`import("tsx/esm/api").then(({ register }) => { register(); return import(${JSON.stringify(source)}); });`, {
    eval: true,
    workerData,
  });
}

export interface ImportParts {
  readonly database: Database;
  readonly bars: BarRepository;
  readonly markets: MarketService;
  readonly repairs: RepairService;
  readonly events: EventStream;
  readonly thread: WorkThread;
  readonly bin: Bin;
}

export class ImportService {
  readonly #parts: ImportParts;
  /** Bars that come to others come to those that are there then. */
  readonly #turn = new InTurn();

  constructor(parts: ImportParts) {
    this.#parts = parts;
  }

  /** @param gone when nobody waits for it any more: nothing is changed then */
  async import(id: string, file: string, request: ImportRequest, gone: AbortSignal): Promise<ImportReport> {
    const { symbol } = readInstrument(request.instrument);
    const known = await this.#known(symbol);
    if (known?.origin === "demo" && known.deletedMs === 0)
      throw new PlanTesterError("conflict", `${symbol} is an instrument of the demo world. Give yours another symbol.`, {});
    return this.#import(id, file, request, gone);
  }

  async #import(id: string, file: string, request: ImportRequest, gone: AbortSignal): Promise<ImportReport> {
    const began = performance.now();
    const parsed = await this.#read(id, file, request, gone);
    const report = await this.#turn.run(() => this.#keep(parsed, request, gone));
    if (report.isDone && request.shape) await this.#remember(request.shape, request);
    return { ...report, elapsedMs: performance.now() - began };
  }

  /** How files of a shape were read last. */
  async mapping(shape: string): Promise<ImportMapping | null> {
    return (await this.#parts.database.read.findOneBy(ImportMappingEntity, { shape }))?.mapping ?? null;
  }

  /** How files of an instrument were read last; null where it is not known, or is another's. */
  async mappingOf(symbol: string): Promise<ImportMapping | null> {
    const rows = await this.#parts.database.read.find(ImportMappingEntity, { order: { usedMs: "DESC" } });
    return rows.find(({ mapping }) => mapping.symbol === symbol)?.mapping ?? null;
  }

  /** A file whose bars come to those of an instrument, facts and all as they are: also of the demo world. Errors as `import`. */
  async addFile(
    id: string,
    file: string,
    {
      symbol,
      format,
      timeframe,
      overlap,
    }: Pick<ImportRequest, "format" | "timeframe"> & { readonly symbol: string; readonly overlap: OverlapChoice },
    gone: AbortSignal,
  ): Promise<ImportReport> {
    const { calendar: _calendar, costs: _costs, ...instrument } = await this.#parts.markets.instrument(symbol);
    return this.#import(id, file, { instrument, format, timeframe, mode: "add", overlap }, gone);
  }

  async #remember(shape: string, { instrument, format, timeframe }: ImportRequest): Promise<void> {
    const { symbol, currency, tickSize, pointValue, minQuantity, quantityStep } = readInstrument(instrument);
    const mapping = { format: plainLayout(format), timeframe, symbol, currency, tickSize, pointValue, minQuantity, quantityStep };
    await this.#parts.database.write((manager) => manager.upsert(ImportMappingEntity, { shape, mapping, usedMs: Date.now() }, ["shape"]));
  }

  #known(symbol: string): Promise<InstrumentRow | null> {
    return this.#parts.database.read.findOneBy(InstrumentEntity, { symbol });
  }

  async #keep(parsed: ParsedBars, request: ImportRequest, gone: AbortSignal): Promise<Omit<ImportReport, "elapsedMs">> {
    const { columns, rows, rejected, problems } = parsed;
    const { symbol } = request.instrument;
    const known = await this.#known(symbol);
    const before = known?.deletedMs === 0 ? known.facts : null;
    const instrument = factsAfterImport(before, request.instrument);
    const set = request.mode === "add" && before ? await this.#parts.bars.setOf(symbol) : null;
    const { overlap, merged } = await this.#laidOver(set, columns, request);
    const report = {
      ...{ symbol, rows, rejected, problems: problems.slice(0, 200), overlap },
      ...{ firstMs: columns.time[0]!, lastMs: columns.time.at(-1)!, bars: columns.time.length },
    };
    if (!merged) return { ...report, isDone: false, repairs: { kept: 0, undone: 0 }, outsideSessions: 0 };
    // What comes to an instrument that is there leaves it in its place.
    const { origin, createdMs, archivedMs } = before && known ? known : { origin: "import" as const, createdMs: Date.now(), archivedMs: 0 };
    const row = { symbol, facts: instrument, origin, createdMs, archivedMs, deletedMs: 0 };
    if (!known) await this.#parts.database.write((manager) => manager.insert(InstrumentEntity, row));
    try {
      await this.#parts.bars.replace(symbol, request.timeframe, merged, async (manager) => {
        gone.throwIfAborted();
        if (before) await keepFacts(manager, before, instrument, Date.now());
        else await forgetPast(manager, symbol);
        await manager.upsert(InstrumentEntity, row, ["symbol"]);
      });
    } catch (error) {
      // One that was made for its bars alone is none without them.
      if (!known) await this.#parts.database.write((manager) => manager.delete(InstrumentEntity, { symbol }));
      throw error;
    }
    this.#parts.markets.changed(symbol);
    const repairs = await this.#parts.repairs.settle(symbol);
    if (repairs.kept === 0) await this.#parts.markets.adopt(symbol, merged);
    await this.#parts.markets.thumbnail(symbol);
    const outsideSessions = await this.#parts.thread.countOutside(columns.time, instrument.calendar);
    return { ...report, isDone: true, repairs, outsideSessions };
  }

  /** The bars of a file. @throws PlanTesterError bad-bars where it has none, or they do not lie apart as they should */
  async #read(id: string, file: string, request: ImportRequest, gone: AbortSignal): Promise<ParsedBars> {
    const parsed = await this.#parse(id, file, request, gone);
    const { columns, rows, problems, spacing } = parsed;
    if (columns.time.length === 0)
      throw new PlanTesterError(
        "bad-bars",
        `No valid bar in ${rows} ${rows === 1 ? "line" : "lines"}. ${problems[0] ? `Line ${problems[0].line}: ${problems[0].text}. ` : ""}Check columns and date format.`,
        { problems: problems.slice(0, 20) },
      );
    if (spacing)
      throw new PlanTesterError("bad-bars", `Line ${spacing.line}: ${spacing.text}. Nothing was imported.`, { problems: [spacing] });
    return parsed;
  }

  /** What is there after bars have come; null where it has to be asked which of two that differ stays. @param set those that they come to */
  async #laidOver(
    set: BarSetRow | null,
    given: BarColumns,
    { timeframe, overlap = "ask" }: ImportRequest,
  ): Promise<{ overlap: Overlap | null; merged: BarColumns | null }> {
    if (!set) return { overlap: null, merged: given };
    if (set.timeframe !== timeframe)
      throw new PlanTesterError(
        "bad-bars",
        `${set.symbol} has bars of ${timeframeLabel(set.timeframe)}, and these are of ${timeframeLabel(timeframe)}. Add bars of the same timeframe, or import them in the place of all.`,
        {},
      );
    if (set.hasSpread !== (given.spread !== undefined))
      throw new PlanTesterError(
        "bad-bars",
        set.hasSpread
          ? `The bars of ${set.symbol} have a spread, and these have none. Say which column it is, or import them in the place of all.`
          : `The bars of ${set.symbol} have no spread, and these have one. Leave its column unused, or import them in the place of all.`,
        {},
      );
    return this.#parts.thread.merge({ there: await this.#parts.bars.columns(set), given, choice: overlap });
  }

  #parse(id: string, file: string, { format, timeframe }: ImportRequest, gone: AbortSignal): Promise<ParsedBars> {
    return new Promise((resolve, reject) => {
      const worker = startWorker({ file, format, timeframe });
      const end = (): void => {
        reject(gone.reason);
        void worker.terminate();
      };
      if (gone.aborted) return end();
      gone.addEventListener("abort", end, { once: true });
      worker.on("message", (message: FromWorker) => {
        if (message.type === "parsed") resolve(message.parsed);
        else if (message.type === "refused") reject(new PlanTesterError(message.code, message.text, {}));
        else this.#parts.events.send({ type: "import-progress", id, done: message.done, total: message.total });
      });
      worker.on("error", reject);
      worker.on("exit", (code) => {
        gone.removeEventListener("abort", end);
        reject(new PlanTesterError("unavailable", `Reading the file ended early (exit code ${code}).`, {}));
      });
    });
  }

  async delete(symbol: string): Promise<void> {
    const known = await this.#parts.database.read.findOneBy(InstrumentEntity, { symbol, deletedMs: 0 });
    if (!known) throw new PlanTesterError("not-found", `There is no instrument "${symbol}".`, { symbol });
    await this.#parts.bin.put("market", symbol);
    this.#parts.markets.changed(symbol);
  }
}
