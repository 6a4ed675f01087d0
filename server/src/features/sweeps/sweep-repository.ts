import { type SweepDetail, type SweepSummary, VariantSpace } from "@plan-tester/contract";
import { SWEEP_FIGURES, spreadPoints } from "@plan-tester/core";
import type { SweepState } from "@plan-tester/runner";
import type { Database } from "../../db/database.ts";
import { SweepEntity, type SweepRow } from "../../db/entities.ts";
import { SweepPieces, type SweepShape } from "./sweep-pieces.ts";

/** All but the long ones. */
const LIST_COLUMNS = {
  id: true,
  planId: true,
  planTitle: true,
  request: true,
  status: true,
  variants: true,
  done: true,
  failed: true,
  createdMs: true,
  elapsedMs: true,
  error: true,
} as const;

/** A sweep as it was written down. */
export interface StoredSweep extends SweepState {
  readonly detail: SweepDetail;
}

const stretchesOf = ({ outOfSample }: Pick<SweepSummary["request"], "outOfSample">): number => (outOfSample ? 2 : 1);

/** Points of a sweep from before they were kept: its conditions were asked only after so many points had been spread. */
function pointsBefore({ inputSpecs, request }: SweepDetail): number[] {
  const space = new VariantSpace(inputSpecs, request.inputs, request);
  const { search } = request;
  if (!search) return space.points();
  return spreadPoints({ sizes: space.sizes, ordered: space.ordered, admits: () => true }, search.count, search.seed).filter(space.admits);
}

export class SweepRepository {
  readonly #database: Database;
  readonly #pieces: SweepPieces;
  /** The last save of each sweep that is under way. */
  readonly #saving = new Map<string, Promise<void>>();

  constructor(database: Database) {
    this.#database = database;
    this.#pieces = new SweepPieces(database);
  }

  list(): Promise<SweepSummary[]> {
    return this.#database.read.find(SweepEntity, { select: LIST_COLUMNS, where: { deletedMs: 0 }, order: { createdMs: "DESC" } });
  }

  async find(id: string): Promise<StoredSweep | null> {
    const row = await this.#database.read.findOneBy(SweepEntity, { id, deletedMs: 0 });
    if (!row) return null;
    const { room, dailyStride, deletedMs: _deleted, ...plain } = row;
    const state = await this.#pieces.read(id, { room, dailyStride, stretches: stretchesOf(row.request) });
    const detail: SweepDetail = {
      ...plain,
      failures: state.failures.filter(({ message }) => message !== ""),
      figures: SWEEP_FIGURES,
    };
    const hasPoints = state.points.length > 0 && !Number.isNaN(state.points[0]);
    return { ...state, detail, points: hasPoints ? state.points : pointsBefore(detail) };
  }

  /**
   * What has come in since the last time, then how far it is: what is counted as done is there. Saves of one sweep are done
   * one after another: its end must not be overtaken by how far it was before.
   */
  save(detail: SweepDetail, state: SweepState): Promise<void> {
    const { id } = detail;
    const saved = (this.#saving.get(id) ?? Promise.resolve()).then(() => this.#save(detail, state));
    const over = saved
      .catch(() => undefined)
      .then(() => {
        if (this.#saving.get(id) === over) this.#saving.delete(id);
      });
    this.#saving.set(id, over);
    return saved;
  }

  async #save(detail: SweepDetail, state: SweepState): Promise<void> {
    const { failures: _failures, figures: _names, ...plain } = detail;
    const stretches = stretchesOf(detail.request);
    const room = state.figures.length / (SWEEP_FIGURES.length * stretches);
    const shape: SweepShape = { room, dailyStride: state.dailyStride, stretches };
    const row: SweepRow = { ...plain, room, dailyStride: state.dailyStride, deletedMs: 0 };
    await this.#pieces.write(detail.id, state, shape);
    await this.#database.write((manager) => manager.upsert(SweepEntity, row, ["id"]));
    if (detail.status !== "running") this.#pieces.forget(detail.id);
  }

  /** Figures stay, daily returns go: the probability of overfitting can't be worked out any more. */
  async dropDaily(id: string): Promise<void> {
    const stored = await this.find(id);
    if (!stored) return;
    await this.#pieces.remove(id);
    await this.save(stored.detail, { ...stored, daily: new Float32Array(0), dailyStride: 0 });
  }

  /** For good. */
  async delete(id: string): Promise<boolean> {
    const { affected } = await this.#database.write((manager) => manager.delete(SweepEntity, { id }));
    await this.#pieces.remove(id);
    return affected === 1;
  }

  /** Sweeps that were running when the server ended, the oldest first. */
  async unfinished(): Promise<string[]> {
    const rows = await this.#database.read.find(SweepEntity, {
      select: { id: true },
      where: { status: "running", deletedMs: 0 },
      order: { createdMs: "ASC" },
    });
    return rows.map(({ id }) => id);
  }
}
