/** Imports a user's own bars: a CSV file into an instrument of its own, with a report of what was left out and why. */
import { Worker } from "node:worker_threads";
import { type ImportReport, type ImportRequest, readInstrument } from "@plan-tester/contract";
import { type ParsedBars, PlanTesterError } from "@plan-tester/core";
import { bundleOf } from "@plan-tester/demo/root";
import type { Bin } from "../../db/bin.ts";
import type { Database } from "../../db/database.ts";
import { InstrumentEntity } from "../../db/entities.ts";
import type { EventStream } from "../../http/events.ts";
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

  constructor(parts: ImportParts) {
    this.#parts = parts;
  }

  async import(id: string, file: string, request: ImportRequest): Promise<ImportReport> {
    const began = performance.now();
    const { symbol } = readInstrument(request.instrument);
    const known = await this.#parts.database.read.findOneBy(InstrumentEntity, { symbol });
    const instrument = factsAfterImport(known?.deletedMs === 0 ? known.facts : null, request.instrument);
    if (known?.origin === "demo")
      throw new PlanTesterError("conflict", `${instrument.symbol} is an instrument of the demo world. Give yours another symbol.`, {});
    const parsed = await this.#parse(id, file, request);
    const { columns, rows, rejected, problems, spacing } = parsed;
    if (columns.time.length === 0)
      throw new PlanTesterError(
        "bad-bars",
        `No valid bar in ${rows} ${rows === 1 ? "line" : "lines"}. ${problems[0] ? `Line ${problems[0].line}: ${problems[0].text}. ` : ""}Check columns and date format.`,
        { problems: problems.slice(0, 20) },
      );
    if (spacing)
      throw new PlanTesterError("bad-bars", `Line ${spacing.line}: ${spacing.text}. Nothing was imported.`, { problems: [spacing] });
    const row = { symbol: instrument.symbol, facts: instrument, origin: "import" as const, createdMs: Date.now(), deletedMs: 0 };
    if (!known) await this.#parts.database.write((manager) => manager.insert(InstrumentEntity, row));
    await this.#parts.bars.replace(instrument.symbol, request.timeframe, columns, async (manager) => {
      if (known?.deletedMs === 0) await keepFacts(manager, known.facts, instrument, Date.now());
      else await forgetPast(manager, symbol);
      await manager.upsert(InstrumentEntity, row, ["symbol"]);
    });
    this.#parts.markets.changed(symbol);
    const repairs = await this.#parts.repairs.settle(symbol);
    await this.#parts.markets.thumbnail(instrument.symbol);
    return {
      repairs,
      symbol: instrument.symbol,
      rows,
      bars: columns.time.length,
      rejected,
      firstMs: columns.time[0]!,
      lastMs: columns.time.at(-1)!,
      problems: problems.slice(0, 200),
      outsideSessions: await this.#parts.thread.countOutside(columns.time, instrument.calendar),
      elapsedMs: performance.now() - began,
    };
  }

  #parse(id: string, file: string, { format, timeframe }: ImportRequest): Promise<ParsedBars> {
    return new Promise((resolve, reject) => {
      const worker = startWorker({ file, format, timeframe });
      worker.on("message", (message: FromWorker) => {
        if (message.type === "parsed") resolve(message.parsed);
        else if (message.type === "refused") reject(new PlanTesterError(message.code, message.text, {}));
        else this.#parts.events.send({ type: "import-progress", id, done: message.done, total: message.total });
      });
      worker.on("error", reject);
      worker.on("exit", (code) => reject(new PlanTesterError("unavailable", `Reading the file ended early (exit code ${code}).`, {})));
    });
  }

  async delete(symbol: string): Promise<void> {
    const known = await this.#parts.database.read.findOneBy(InstrumentEntity, { symbol, deletedMs: 0 });
    if (!known) throw new PlanTesterError("not-found", `There is no instrument "${symbol}".`, { symbol });
    if (known.origin === "demo") throw new PlanTesterError("conflict", "The instruments of the demo world can't be removed.", { symbol });
    await this.#parts.bin.put("market", symbol);
    this.#parts.markets.changed(symbol);
  }
}
