/** What a run came to, as a short hash: every fill, every trade and the equity at each bar, to the last bit (R7.2). */
import { createHash } from "node:crypto";
import type { Fill, RunResult, Trade } from "@plan-tester/core";

/** Changes whenever the same result hashes differently, so that older hashes are known to be no match for newer ones. */
const VERSION = 2;
const BUFFER_NUMBERS = 8192;

/** Numbers go into the hash as 64-bit floats, texts as their number in a table of texts that is hashed last. */
class PackedHash {
  readonly #hash = createHash("sha256");
  readonly #numbers = new Float64Array(BUFFER_NUMBERS);
  readonly #bytes = new Uint8Array(this.#numbers.buffer);
  readonly #texts = new Map<string, number>();
  #count = 0;

  number(value: number): void {
    if (this.#count === BUFFER_NUMBERS) this.#flush();
    this.#numbers[this.#count++] = value;
  }

  /** null is told apart from every number. */
  optional(value: number | null): void {
    this.number(value === null ? 0 : 1);
    this.number(value ?? 0);
  }

  text(value: string): void {
    let id = this.#texts.get(value);
    if (id === undefined) {
      id = this.#texts.size;
      this.#texts.set(value, id);
    }
    this.number(id);
  }

  column(values: Float64Array): void {
    this.number(values.length);
    this.#flush();
    this.#hash.update(new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  }

  #flush(): void {
    this.#hash.update(this.#bytes.subarray(0, this.#count * 8));
    this.#count = 0;
  }

  digest(): string {
    this.#flush();
    return this.#hash.update(JSON.stringify([...this.#texts.keys()])).digest("hex");
  }
}

function addFill(hash: PackedHash, fill: Fill): void {
  hash.number(fill.orderId);
  hash.text(fill.source);
  hash.number(fill.side);
  hash.number(fill.quantity);
  hash.number(fill.price);
  hash.number(fill.timeMs);
  hash.number(fill.barIndex);
  hash.number(fill.commission);
  hash.number(fill.spread);
  hash.number(fill.slippage);
  hash.text(fill.tag);
  hash.number(fill.line);
}

function addTrade(hash: PackedHash, trade: Trade): void {
  hash.number(trade.id);
  hash.number(trade.orderId);
  hash.text(trade.symbol);
  hash.number(trade.side);
  hash.number(trade.quantity);
  hash.number(trade.entryTime);
  hash.number(trade.entryBar);
  hash.number(trade.entryPrice);
  hash.text(trade.entryTag);
  hash.number(trade.entryLine);
  hash.number(trade.exitTime);
  hash.number(trade.exitBar);
  hash.number(trade.exitPrice);
  hash.text(trade.exitTag);
  hash.number(trade.exitLine);
  hash.text(trade.reason);
  hash.number(trade.gross);
  hash.number(trade.commission);
  hash.number(trade.spread);
  hash.number(trade.slippage);
  hash.number(trade.financing);
  hash.number(trade.net);
  hash.number(trade.barsHeld);
  hash.number(trade.mae);
  hash.number(trade.mfe);
  hash.optional(trade.risk);
  hash.optional(trade.r);
  hash.number(trade.pathDependent ? 1 : 0);
  hash.number(trade.atStake);
  hash.number(trade.rails.length);
  for (const { barIndex, stop, target } of trade.rails) {
    hash.number(barIndex);
    hash.optional(stop);
    hash.optional(target);
  }
}

export type HashedResult = Pick<RunResult, "status" | "fills" | "trades" | "equity">;

/** `2-` (the version of the way of hashing) and 16 hex digits. */
export function resultHashOf({ status, fills, trades, equity }: HashedResult): string {
  const hash = new PackedHash();
  hash.text(status);
  hash.number(fills.length);
  for (const fill of fills) addFill(hash, fill);
  hash.number(trades.length);
  for (const trade of trades) addTrade(hash, trade);
  hash.column(equity);
  return `${VERSION}-${hash.digest().slice(0, 16)}`;
}

/** Whether a stored hash was made the way hashes are made now. */
export const isCurrentHash = (hash: string): boolean => hash.startsWith(`${VERSION}-`);
