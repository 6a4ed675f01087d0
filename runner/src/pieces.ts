/**
 * Large data in small pieces, so that neither end is busy with it for long: the typed arrays of an object go one stretch
 * at a time, the rest of it ahead of them.
 */
import { setImmediate as breathe } from "node:timers/promises";

const KINDS = { Float64Array, Int32Array, Uint8Array } as const;
type KindName = keyof typeof KINDS;
type Numbers = InstanceType<(typeof KINDS)[KindName]>;

/** What one message carries, bytes. */
const PIECE_BYTES = 1024 * 1024;

/** A typed array that was taken out. */
interface Place {
  readonly takenOut: number;
}

export interface ArrayFacts {
  readonly kind: KindName;
  readonly length: number;
}

export type PieceMessage =
  | { readonly type: "data-begin"; readonly key: string; readonly frame: unknown; readonly arrays: readonly ArrayFacts[] }
  | { readonly type: "data-piece"; readonly key: string; readonly array: number; readonly at: number; readonly values: Numbers }
  | { readonly type: "data-end"; readonly key: string };

const kindOf = (value: unknown): KindName | undefined => (Object.keys(KINDS) as KindName[]).find((name) => value instanceof KINDS[name]);
const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value) && kindOf(value) === undefined;

/** The object with its typed arrays taken out into a list. */
function takeApart(value: unknown, arrays: Numbers[]): unknown {
  if (kindOf(value)) return { takenOut: arrays.push(value as Numbers) - 1 } satisfies Place;
  if (!isPlain(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([name, part]) => [name, takeApart(part, arrays)]));
}

function putTogether(frame: unknown, arrays: readonly Numbers[]): unknown {
  if (!isPlain(frame)) return frame;
  if (typeof frame.takenOut === "number") return arrays[frame.takenOut];
  return Object.fromEntries(Object.entries(frame).map(([name, part]) => [name, putTogether(part, arrays)]));
}

/** Sends a value under a key; others get their turn between two pieces. `send` settles when a message has gone out. */
export async function sendInPieces(key: string, value: unknown, send: (message: PieceMessage) => Promise<void>): Promise<void> {
  const arrays: Numbers[] = [];
  const frame = takeApart(value, arrays);
  await send({ type: "data-begin", key, frame, arrays: arrays.map((array) => ({ kind: kindOf(array)!, length: array.length })) });
  for (const [index, array] of arrays.entries()) {
    const step = PIECE_BYTES / array.BYTES_PER_ELEMENT;
    for (let at = 0; at < array.length; at += step) {
      await send({ type: "data-piece", key, array: index, at, values: array.subarray(at, at + step) });
      await breathe();
    }
  }
  await send({ type: "data-end", key });
}

/** Puts together what comes in pieces. */
export class PieceReceiver {
  readonly #makeMemory: (bytes: number) => ArrayBufferLike;
  readonly #begun = new Map<string, { readonly frame: unknown; readonly arrays: readonly Numbers[] }>();

  /** @param makeMemory where arrays are put: memory of one's own, or shared with other threads. */
  constructor(makeMemory: (bytes: number) => ArrayBufferLike) {
    this.#makeMemory = makeMemory;
  }

  /** The whole value with its last message; undefined before that. */
  receive(message: PieceMessage): unknown {
    if (message.type === "data-begin") {
      const arrays = message.arrays.map(({ kind, length }): Numbers => {
        const Kind = KINDS[kind] as new (memory: ArrayBufferLike) => Numbers;
        return new Kind(this.#makeMemory(length * KINDS[kind].BYTES_PER_ELEMENT));
      });
      this.#begun.set(message.key, { frame: message.frame, arrays });
      return undefined;
    }
    const begun = this.#begun.get(message.key);
    if (!begun) throw new Error(`A piece of "${message.key}" came before its beginning.`);
    if (message.type === "data-piece") {
      begun.arrays[message.array]!.set(message.values, message.at);
      return undefined;
    }
    this.#begun.delete(message.key);
    return putTogether(begun.frame, begun.arrays);
  }
}
