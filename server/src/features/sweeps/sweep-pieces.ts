/**
 * The rows of a sweep in the database, so many variants to a piece. A piece is written when one of its variants has come to
 * an end since it was last written: what grows with a sweep is written once, not again with every step.
 *
 *   piece: points | figures, a row per variant | daily returns of every `dailyStride`th | failures
 */
import { setImmediate as breathe } from "node:timers/promises";
import { packColumns, unpackColumns } from "@plan-tester/contract";
import { SWEEP_FIGURES, widened } from "@plan-tester/core";
import type { SweepFailure, SweepState } from "@plan-tester/runner";
import type { Database } from "../../db/database.ts";
import { deflated, inflated } from "../../db/deflated.ts";
import { SweepPieceEntity } from "../../db/entities.ts";

/** Variants of a piece: half a megabyte of figures. */
export const PIECE_VARIANTS = 2048;

/** Head of a piece. */
interface PieceMeta {
  /** Variants are counted from the sweep's first. */
  readonly failures: readonly SweepFailure[];
}

/** How long the columns of a whole sweep are. */
export interface SweepShape {
  /** Variants that there is room for. */
  readonly room: number;
  readonly dailyStride: number;
  readonly stretches: number;
}

interface Range {
  readonly from: number;
  /** Exclusive. */
  readonly to: number;
}

/** Rows of daily returns that belong to variants of a range. */
const dailyRows = ({ from, to }: Range, stride: number): Range =>
  stride === 0 ? { from: 0, to: 0 } : { from: Math.ceil(from / stride), to: Math.ceil(to / stride) };

/** How many variants of a range have come to an end, well or not. */
function endedIn({ points, figures, failures }: SweepState, { from, to }: Range, rowWidth: number): number {
  let ended = 0;
  const end = Math.min(to, points.length);
  for (let variant = from; variant < end; variant++) if (!Number.isNaN(figures[variant * rowWidth]!)) ended++;
  return ended + failures.filter(({ variant }) => variant >= from && variant < to).length;
}

function packPiece(
  { points, figures, daily, dailyStride, failures }: SweepState,
  range: Range,
  rowWidth: number,
  days: number,
): Uint8Array {
  const { from, to } = range;
  const end = Math.min(to, points.length);
  const rows = dailyRows({ from, to: end }, dailyStride);
  const meta: PieceMeta = { failures: failures.filter(({ variant }) => variant >= from && variant < to) };
  return packColumns(meta, [
    { name: "points", values: Float64Array.from(points.slice(from, end)) },
    { name: "figures", values: figures.subarray(from * rowWidth, end * rowWidth) },
    { name: "daily", values: daily.subarray(rows.from * days, rows.to * days) },
  ]);
}

export class SweepPieces {
  readonly #database: Database;
  /** Of each sweep that is being written: how many variants of each piece had ended, and how many points it had. */
  readonly #written = new Map<string, string[]>();

  constructor(database: Database) {
    this.#database = database;
  }

  /** Writes what has come in since the last time, piece by piece. */
  async write(id: string, state: SweepState, { room, dailyStride, stretches }: SweepShape): Promise<void> {
    const rowWidth = SWEEP_FIGURES.length * stretches;
    const kept = dailyRows({ from: 0, to: room }, dailyStride).to;
    const days = kept === 0 ? 0 : state.daily.length / kept;
    const written = this.#written.get(id) ?? [];
    this.#written.set(id, written);
    for (let seq = 0; seq * PIECE_VARIANTS < state.points.length; seq++) {
      const range = { from: seq * PIECE_VARIANTS, to: (seq + 1) * PIECE_VARIANTS };
      const mark = `${Math.min(state.points.length, range.to)}:${endedIn(state, range, rowWidth)}`;
      if (written[seq] === mark) continue;
      const bytes = await deflated(packPiece(state, range, rowWidth, days));
      await this.#database.write((manager) => manager.upsert(SweepPieceEntity, { sweepId: id, seq, bytes }, ["sweepId", "seq"]));
      written[seq] = mark;
    }
  }

  /** It is at its end, or nobody goes on with it here. */
  forget(id: string): void {
    this.#written.delete(id);
  }

  /** All that was written; rows that no piece has are NaN. */
  async read(id: string, { room, dailyStride, stretches }: SweepShape): Promise<SweepState> {
    const rowWidth = SWEEP_FIGURES.length * stretches;
    const points: number[] = [];
    const failures: SweepFailure[] = [];
    const figures = new Float64Array(room * rowWidth).fill(Number.NaN);
    let daily = new Float32Array(0);
    for (let seq = 0; ; seq++) {
      const piece = await this.#database.read.findOneBy(SweepPieceEntity, { sweepId: id, seq });
      if (!piece) break;
      const bytes = await inflated(piece.bytes);
      const { meta, columns, singles } = unpackColumns<PieceMeta>(
        bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer,
      );
      const from = seq * PIECE_VARIANTS;
      const own = columns.points!;
      for (const point of own) points.push(point);
      failures.push(...meta.failures);
      figures.set(widened(columns.figures!, own.length * stretches), from * rowWidth);
      const rows = dailyRows({ from, to: from + own.length }, dailyStride);
      const part = singles.daily!;
      if (part.length > 0) {
        const days = part.length / (rows.to - rows.from);
        if (daily.length === 0) daily = new Float32Array(dailyRows({ from: 0, to: room }, dailyStride).to * days);
        daily.set(part, rows.from * days);
      }
      await breathe();
    }
    return { points, figures, daily, dailyStride, failures };
  }

  async remove(id: string): Promise<void> {
    this.forget(id);
    const rows = await this.#database.read.find(SweepPieceEntity, { select: { sweepId: true, seq: true }, where: { sweepId: id } });
    for (const { seq } of rows) {
      await this.#database.write((manager) => manager.delete(SweepPieceEntity, { sweepId: id, seq }));
      await breathe();
    }
  }
}
