/** A run's result as a report: judged and hashed here, in the plan process, and written as bytes that others hand on. */
import { packColumns } from "@plan-tester/contract";
import type { Fill, Order, RunResult, Trade } from "@plan-tester/core";
import type { ReportHead, ReportPart, Send } from "../protocol.ts";
import { resultHashOf } from "../result-hash.ts";
import { findSlips } from "../slips.ts";

/** Whoever takes the parts copies one at a time: small ones keep it free for others between two. */
const PART_BYTES = 512 * 1024;
const ITEMS_AT_ONCE = 500;

/** JSON text of an array of trades. */
export const tradesText = (trades: readonly Trade[]): Uint8Array => Buffer.from(JSON.stringify(trades));

/** Sends text in parts of about `PART_BYTES`. */
class PartWriter {
  readonly #send: (bytes: Uint8Array) => Promise<void>;
  #waiting: Buffer[] = [];
  #bytes = 0;

  constructor(send: (bytes: Uint8Array) => Promise<void>) {
    this.#send = send;
  }

  async text(text: string): Promise<void> {
    const bytes = Buffer.from(text);
    this.#waiting.push(bytes);
    this.#bytes += bytes.length;
    if (this.#bytes >= PART_BYTES) await this.end();
  }

  async list(items: readonly object[]): Promise<void> {
    await this.text("[");
    for (let i = 0; i < items.length; i += ITEMS_AT_ONCE) {
      const text = JSON.stringify(items.slice(i, i + ITEMS_AT_ONCE)).slice(1, -1);
      await this.text(i > 0 ? `,${text}` : text);
    }
    await this.text("]");
  }

  async end(): Promise<void> {
    const bytes = Buffer.concat(this.#waiting);
    this.#waiting = [];
    this.#bytes = 0;
    if (bytes.length > 0) await this.#send(bytes);
  }
}

/** Sends the long parts of a result, unless only its head is wanted, and gives what is left of it. */
export async function report(id: number, source: string, result: RunResult, send: Send | null): Promise<ReportHead> {
  const { orders, fills, trades, equity, plots, ...rest } = result;
  if (send) await sendParts(id, result, send);
  return {
    ...rest,
    plots: plots.map(({ label, pane, shift }) => ({ label, pane, shift })),
    slips: findSlips(source, result),
    resultHash: resultHashOf(result),
  };
}

async function sendParts(id: number, { orders, fills, trades, equity, plots }: RunResult, send: Send): Promise<void> {
  const writer = (part: ReportPart): PartWriter => new PartWriter((bytes) => send({ type: "part", id, part, bytes }));
  const tradesPart = writer("trades");
  await tradesPart.list(trades);
  await tradesPart.end();
  await writeOrders(writer("orders"), orders, fills);
  const columns = packColumns({}, [{ name: "equity", values: equity }, ...plots.map(({ values }, i) => ({ name: `plot${i}`, values }))]);
  await sendInParts(id, "columns", columns, send);
}

/** Bytes that are there already, cut into parts. */
export async function sendInParts(id: number, part: ReportPart, bytes: Uint8Array, send: Send): Promise<void> {
  for (let at = 0; at < bytes.length; at += PART_BYTES) await send({ type: "part", id, part, bytes: bytes.subarray(at, at + PART_BYTES) });
}

async function writeOrders(writer: PartWriter, orders: readonly Order[], fills: readonly Fill[]): Promise<void> {
  await writer.text('{"orders":');
  await writer.list(orders);
  await writer.text(',"fills":');
  await writer.list(fills);
  await writer.text("}");
  await writer.end();
}
