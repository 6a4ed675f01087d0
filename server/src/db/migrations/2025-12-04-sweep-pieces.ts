/** Rows of a sweep in pieces, each written once, instead of one blob that every save writes again. */
import { deflateRawSync } from "node:zlib";
import type { MigrationInterface, QueryRunner } from "typeorm";

const PIECE_VARIANTS = 2048;
/** Figures of a variant, then and in earlier versions. */
const WIDTHS = [22, 11];

interface StoredSweep {
  readonly id: string;
  readonly request: string;
  readonly variants: number;
  readonly failures: string;
  readonly points: Buffer | null;
  readonly figures: Buffer;
  readonly daily: Buffer | null;
  readonly dailyStride: number;
}

const ownBuffer = ({ buffer, byteOffset, byteLength }: Buffer): ArrayBuffer =>
  buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer;

/** Columns behind a JSON head, as pieces hold them. */
function pack(
  meta: object,
  columns: readonly { readonly name: string; readonly type?: string; readonly values: Float64Array | Float32Array }[],
): Buffer {
  const padded = (length: number): number => Math.ceil(length / 8) * 8;
  const heads = columns.map(({ name, type, values }) => ({ name, length: values.length, ...(type ? { type } : {}) }));
  const head = Buffer.from(JSON.stringify({ meta, columns: heads }));
  const parts: Buffer[] = [Buffer.alloc(padded(4 + head.length))];
  parts[0]!.writeUInt32LE(head.length, 0);
  head.copy(parts[0]!, 4);
  for (const { values } of columns) {
    const part = Buffer.alloc(padded(values.byteLength));
    Buffer.from(values.buffer, values.byteOffset, values.byteLength).copy(part);
    parts.push(part);
  }
  return Buffer.concat(parts);
}

/** Variants that a sweep's figures have room for, by what of its counts fits them. */
function roomOf(figures: Float64Array, counts: readonly number[], stretches: number): { room: number; width: number } {
  for (const width of WIDTHS)
    for (const count of counts) if (count > 0 && figures.length === count * width * stretches) return { room: count, width };
  return { room: Math.floor(figures.length / (WIDTHS[1]! * stretches)), width: WIDTHS[1]! };
}

function* piecesOf(sweep: StoredSweep): Generator<{ seq: number; bytes: Buffer; room: number }> {
  const request = JSON.parse(sweep.request) as { readonly outOfSample: unknown; readonly search?: { readonly count: number } | null };
  const stretches = request.outOfSample ? 2 : 1;
  const figures = new Float64Array(ownBuffer(sweep.figures));
  const points = sweep.points ? new Float64Array(ownBuffer(sweep.points)) : null;
  const daily = sweep.daily ? new Float32Array(ownBuffer(sweep.daily)) : new Float32Array(0);
  const failures = JSON.parse(sweep.failures) as { readonly variant: number }[];
  const { room, width } = roomOf(figures, [sweep.variants, points?.length ?? 0, request.search?.count ?? 0], stretches);
  const stride = sweep.dailyStride;
  const dailyRows = stride > 0 ? Math.ceil(room / stride) : 0;
  const days = dailyRows > 0 ? daily.length / dailyRows : 0;
  // Sweeps from before points were kept get none: they are found again by what was asked for.
  const count = points?.length ?? room;
  for (let seq = 0; seq * PIECE_VARIANTS < count; seq++) {
    const from = seq * PIECE_VARIANTS;
    const to = Math.min(count, from + PIECE_VARIANTS);
    const row = (variant: number): number => (stride > 0 ? Math.ceil(variant / stride) : 0);
    const bytes = pack({ failures: failures.filter(({ variant }) => variant >= from && variant < to) }, [
      { name: "points", values: points ? points.slice(from, to) : new Float64Array(to - from).fill(Number.NaN) },
      { name: "figures", values: figures.slice(from * width * stretches, to * width * stretches) },
      { name: "daily", type: "f32", values: daily.slice(row(from) * days, row(to) * days) },
    ]);
    yield { seq, bytes: deflateRawSync(bytes, { level: 1 }), room };
  }
}

export class SweepPieces1764900000000 implements MigrationInterface {
  readonly name = "SweepPieces1764900000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "sweep_piece" ("sweepId" text NOT NULL, "seq" integer NOT NULL, "bytes" blob NOT NULL, PRIMARY KEY ("sweepId", "seq"))`,
    );
    await runner.query(`ALTER TABLE "sweep" ADD COLUMN "room" integer NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "sweep" ADD COLUMN "failed" integer NOT NULL DEFAULT 0`);
    await runner.query(`UPDATE "sweep" SET "failed" = json_array_length("failures")`);
    for (const { id } of (await runner.query(`SELECT "id" FROM "sweep"`)) as { id: string }[]) {
      const [sweep] = (await runner.query(`SELECT * FROM "sweep" WHERE "id" = ?`, [id])) as StoredSweep[];
      for (const { seq, bytes, room } of piecesOf(sweep!)) {
        await runner.query(`INSERT INTO "sweep_piece" ("sweepId", "seq", "bytes") VALUES (?, ?, ?)`, [id, seq, bytes]);
        await runner.query(`UPDATE "sweep" SET "room" = ? WHERE "id" = ?`, [room, id]);
      }
    }
    for (const column of ["points", "figures", "daily", "failures"]) await runner.query(`ALTER TABLE "sweep" DROP COLUMN "${column}"`);
  }

  /** Sweeps made since then can't be held by the older table; they go. */
  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DELETE FROM "sweep"`);
    for (const column of ["room", "failed"]) await runner.query(`ALTER TABLE "sweep" DROP COLUMN "${column}"`);
    for (const column of ["points", "daily"]) await runner.query(`ALTER TABLE "sweep" ADD COLUMN "${column}" blob`);
    await runner.query(`ALTER TABLE "sweep" ADD COLUMN "figures" blob NOT NULL DEFAULT x''`);
    await runner.query(`ALTER TABLE "sweep" ADD COLUMN "failures" text NOT NULL DEFAULT '[]'`);
    await runner.query(`DROP TABLE "sweep_piece"`);
  }
}
