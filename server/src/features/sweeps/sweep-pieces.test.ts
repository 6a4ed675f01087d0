/** Rows of a sweep come back from their pieces to the bit, and a piece is written only when something in it has come in. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Random, SWEEP_FIGURES } from "@plan-tester/core";
import type { SweepState } from "@plan-tester/runner";
import { afterAll, beforeAll, expect, test } from "vitest";
import { Database } from "../../db/database.ts";
import { PIECE_VARIANTS, SweepPieces, type SweepShape } from "./sweep-pieces.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-"));
let database: Database;
beforeAll(async () => {
  database = await Database.open(join(folder, "pieces.sqlite"));
});
afterAll(async () => {
  await database.close();
  rmSync(folder, { recursive: true, force: true });
});

const WIDTH = SWEEP_FIGURES.length;
const DAYS = 3;

/** A sweep with room for so many variants, of which the first so many have points. */
function sweep(shape: SweepShape, points: number, seed: number): SweepState {
  const random = new Random(seed);
  const rows = shape.dailyStride > 0 ? Math.ceil(shape.room / shape.dailyStride) : 0;
  return {
    points: Array.from({ length: points }, (_none, k) => k * 3 + 1),
    figures: new Float64Array(shape.room * WIDTH * shape.stretches).fill(Number.NaN),
    daily: Float32Array.from({ length: rows * DAYS }, () => 0),
    dailyStride: shape.dailyStride,
    failures: Array.from({ length: 3 }, (_none, k) => ({ variant: Math.floor(random.next() * points), message: k === 0 ? "" : `no ${k}` })),
  };
}

/** A variant comes in. */
function end(state: SweepState, variant: number, { stretches, dailyStride }: SweepShape, random: Random): void {
  const width = WIDTH * stretches;
  for (let k = 0; k < width; k++) state.figures[variant * width + k] = k % 5 === 4 ? Number.NaN : random.next() * 1e6 - 5e5;
  if (dailyStride > 0 && variant % dailyStride === 0)
    for (let day = 0; day < DAYS; day++) state.daily[(variant / dailyStride) * DAYS + day] = random.next();
}

const piecesOf = (id: string) =>
  database.read.query<{ seq: number; bytes: Buffer }[]>(`SELECT "seq", "bytes" FROM "sweep_piece" WHERE "sweepId" = ? ORDER BY "seq"`, [
    id,
  ]);

test.each<[string, SweepShape, number]>([
  ["one piece", { room: 100, dailyStride: 1, stretches: 1 }, 100],
  ["to the last variant of a piece", { room: PIECE_VARIANTS, dailyStride: 1, stretches: 2 }, PIECE_VARIANTS],
  ["one variant further", { room: PIECE_VARIANTS + 1, dailyStride: 3, stretches: 1 }, PIECE_VARIANTS + 1],
  ["three pieces, daily returns of every seventh", { room: 5000, dailyStride: 7, stretches: 2 }, 5000],
  ["no daily returns", { room: 3000, dailyStride: 0, stretches: 1 }, 3000],
  ["a search that has tried half of what it may", { room: 6000, dailyStride: 5, stretches: 1 }, 3001],
])("%s", async (name, shape, points) => {
  const random = new Random(7);
  const state = sweep(shape, points, 11);
  for (let variant = 0; variant < points; variant++) if (random.next() < 0.8) end(state, variant, shape, random);
  const pieces = new SweepPieces(database);
  await pieces.write(name, state, shape);
  const back = await new SweepPieces(database).read(name, shape);
  expect(back.points).toEqual(state.points);
  expect(Buffer.compare(Buffer.from(back.figures.buffer), Buffer.from(state.figures.buffer))).toBe(0);
  expect([...back.failures].sort((a, b) => a.variant - b.variant)).toEqual([...state.failures].sort((a, b) => a.variant - b.variant));
  expect(Buffer.compare(Buffer.from(back.daily.buffer), Buffer.from(state.daily.buffer))).toBe(0);
});

test("only pieces in which something came in are written again", async () => {
  const shape: SweepShape = { room: 3 * PIECE_VARIANTS, dailyStride: 1, stretches: 1 };
  const state = sweep(shape, shape.room, 5);
  const random = new Random(3);
  const pieces = new SweepPieces(database);
  let writes = 0;
  database.beforeWrite = () => void writes++;
  const written = async (): Promise<number> => {
    writes = 0;
    await pieces.write("grows", state, shape);
    return writes;
  };
  expect(await written()).toBe(3);
  expect(await written()).toBe(0);
  end(state, PIECE_VARIANTS + 5, shape, random);
  expect(await written()).toBe(1);
  end(state, 1, shape, random);
  end(state, 2 * PIECE_VARIANTS, shape, random);
  expect(await written()).toBe(2);
  database.beforeWrite = null;
  expect((await piecesOf("grows")).length).toBe(3);
  await pieces.remove("grows");
  expect(await piecesOf("grows")).toEqual([]);
});
