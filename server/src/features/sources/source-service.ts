/** Looks at the sources that are on as often as they want, and adds what is new to the bars of their instruments. */
import { randomUUID } from "node:crypto";
import { mkdir, rm } from "node:fs/promises";
import { join } from "node:path";
import type { Source, SourceBody } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Background } from "../../background.ts";
import type { SourceRow } from "../../db/entities.ts";
import { InTurn } from "../../in-turn.ts";
import { messageOf } from "../../text.ts";
import type { ImportService } from "../imports/import-service.ts";
import type { MarketService } from "../markets/market-service.ts";
import { folderSource } from "./folder-source.ts";
import type { SourceItem, SourceKind } from "./source-kind.ts";
import type { SourceRepository } from "./source-repository.ts";
import { webSource } from "./web-source.ts";

const SOURCE_KINDS: Readonly<Record<SourceBody["kind"], SourceKind>> = { folder: folderSource, web: webSource };

const LOOK_EVERY_MS = 15_000;
const MINUTE_MS = 60_000;
/** A file that has failed so often is left until it has changed. */
const MOST_TRIES = 3;

export interface SourceParts {
  readonly repository: SourceRepository;
  readonly imports: ImportService;
  readonly markets: MarketService;
  readonly background: Background;
  readonly dataFolder: string;
}

export class SourceService {
  readonly #parts: SourceParts;
  readonly #turn = new InTurn();
  readonly #gone = new AbortController();
  readonly #timer: NodeJS.Timeout;
  readonly #waiting = new Set<string>();

  constructor(parts: SourceParts) {
    this.#parts = parts;
    this.#timer = setInterval(() => parts.background.run("the sources were not looked at", {}, () => this.#lookAtDue()), LOOK_EVERY_MS);
    this.#timer.unref();
  }

  async list(): Promise<Source[]> {
    const rows = await this.#parts.repository.all();
    return Promise.all(
      rows.map(async ({ id, source, isOn, lookedMs }) => {
        const { format: _format, timeframe: _timeframe, ...body } = source;
        const [last = null] = await this.#parts.repository.log(id, 1);
        return { id, ...body, isOn, lookedMs, isLooking: this.#waiting.has(id), last };
      }),
    );
  }

  /** @throws PlanTesterError bad-input for a place that can be none; conflict where it is not known how the instrument's files are read */
  async create(body: SourceBody): Promise<string> {
    await SOURCE_KINDS[body.kind].check(body);
    const mapping = await this.#parts.imports.mappingOf(body.symbol);
    if (!mapping)
      throw new PlanTesterError(
        "conflict",
        `Import one file of ${body.symbol} by hand first: how its files are read is taken from there.`,
        { symbol: body.symbol },
      );
    const { format, timeframe } = mapping;
    const row: Omit<SourceRow, "deletedMs"> = {
      id: randomUUID().slice(0, 8),
      symbol: body.symbol,
      source: { ...body, format, timeframe },
      isOn: true,
      lookedMs: 0,
    };
    await this.#parts.repository.insert(row);
    return row.id;
  }

  turn(id: string, isOn: boolean): Promise<void> {
    return this.#parts.repository.change(id, { isOn });
  }

  /** Looks now, whether or not it is on; settles when all that was there is taken or has failed. */
  async lookAt(id: string): Promise<void> {
    const row = await this.#parts.repository.get(id);
    await this.#look(row);
  }

  async #lookAtDue(): Promise<void> {
    const now = Date.now();
    for (const row of await this.#parts.repository.all())
      if (row.isOn && now - row.lookedMs >= row.source.everyMinutes * MINUTE_MS) await this.#look(row);
  }

  async #look(row: SourceRow): Promise<void> {
    if (this.#waiting.has(row.id)) return;
    this.#waiting.add(row.id);
    try {
      await this.#turn.run(() => this.#lookInTurn(row));
    } finally {
      this.#waiting.delete(row.id);
    }
  }

  async #lookInTurn({ id, source }: SourceRow): Promise<void> {
    const { repository, markets } = this.#parts;
    const nowMs = Date.now();
    await repository.change(id, { lookedMs: nowMs });
    let items: readonly SourceItem[];
    try {
      const { dates } = await markets.thumbnail(source.symbol);
      items = await SOURCE_KINDS[source.kind].items(source, { lastDate: dates.at(-1)!, nowMs });
    } catch (error) {
      return repository.note(id, source.place, "failed", messageOf(error), nowMs);
    }
    const tries = await repository.tries(id);
    for (const item of items) {
      if (this.#gone.signal.aborted) return;
      const { isTaken = false, failed = 0 } = tries.get(item.key) ?? {};
      if (!item.isAlways && (isTaken || failed >= MOST_TRIES)) continue;
      // What comes later does not go ahead of what failed.
      if (!(await this.#take(id, source, item))) return;
    }
  }

  /** @returns whether to go on */
  async #take(id: string, source: SourceRow["source"], item: SourceItem): Promise<boolean> {
    const { repository, imports, dataFolder } = this.#parts;
    const folder = join(dataFolder, "incoming");
    const file = join(folder, `source-${id}-${randomUUID().slice(0, 8)}`);
    try {
      await mkdir(folder, { recursive: true });
      if (!(await item.bring(file, this.#gone.signal))) {
        await repository.note(id, item.key, "nothing", `${item.name}: nothing there yet`, Date.now());
        return true;
      }
      const { symbol, format, timeframe, overlap } = source;
      const report = await imports.addFile(`source-${id}`, file, { symbol, format, timeframe, overlap }, this.#gone.signal);
      const fresh = report.overlap?.fresh ?? report.bars;
      const changed = overlap === "replace" ? (report.overlap?.differs ?? 0) : 0;
      const text = `${item.name}: ${fresh} bars added, ${changed} changed, ${report.rejected} lines left out`;
      await repository.note(id, item.key, fresh + changed > 0 ? "added" : "nothing new", text, Date.now());
      return true;
    } catch (error) {
      if (this.#gone.signal.aborted) return false;
      await repository.note(id, item.key, "failed", `${item.name}: ${messageOf(error)}`, Date.now());
      return false;
    } finally {
      await rm(file, { force: true });
    }
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    this.#gone.abort(new PlanTesterError("stopped", "The server is ending.", {}));
    await this.#turn.run(async () => undefined);
  }
}
