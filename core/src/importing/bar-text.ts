/** Text of bars or ticks as CSV, part by part, however it comes: plain, packed with gzip, one file in a zip archive, or as JSON. */
import { Gunzip, Unzip, UnzipInflate } from "fflate";
import { PlanTesterError } from "../errors.ts";
import { JsonRows } from "./json-rows.ts";
import { isParquet } from "./parquet.ts";

/** What is unpacked at most: a small file can hold any number of zeros. */
const MOST_BYTES = 8 * 2 ** 30;
const BAR_FILES = /\.(csv|txt|tsv|json|jsonl|ndjson|dat|prn|parquet)$/i;
/** Of one that is packed, which has to be held whole. */
const MOST_PARQUET = 2 ** 30;
const KNOWN_BYTES = 4;

const refuse = (message: string): never => {
  throw new PlanTesterError("bad-input", message, {});
};

interface Unpacker {
  push(part: Uint8Array, isLast: boolean): void;
}

export class BarText {
  #parts: Uint8Array[] = [];
  #head: Uint8Array = new Uint8Array(0);
  #unpacker: Unpacker | null = null;
  #rows: JsonRows | null = null;
  #hasText = false;
  #unpacked = 0;
  #isPlain = true;
  #parquet: Uint8Array[] | null = null;

  /** Whether the text is what the file holds, byte by byte: then it can be looked into anywhere. As of what was fed so far. */
  get isPlain(): boolean {
    return this.#isPlain;
  }

  /** The Parquet file that was packed, once it is whole; null where it is text. */
  get parquet(): ArrayBuffer | null {
    if (!this.#parquet) return null;
    const whole = new Uint8Array(this.#unpacked);
    let at = 0;
    for (const part of this.#parquet) {
      whole.set(part, at);
      at += part.length;
    }
    return whole.buffer;
  }

  /** Takes the next part of the file. @returns what can be told of its text. @throws PlanTesterError bad-input, limit */
  feed(part: Uint8Array): readonly Uint8Array[] {
    return this.#take(part, false);
  }

  finish(): readonly Uint8Array[] {
    const parts = [...this.#take(new Uint8Array(0), true)];
    const rest = this.#rows?.finish() ?? "";
    return rest === "" ? parts : [...parts, new TextEncoder().encode(rest)];
  }

  #take(part: Uint8Array, isLast: boolean): readonly Uint8Array[] {
    this.#parts = [];
    let bytes = part;
    if (!this.#unpacker) {
      bytes = new Uint8Array(this.#head.length + part.length);
      bytes.set(this.#head);
      bytes.set(part, this.#head.length);
      this.#head = bytes;
      if (bytes.length < KNOWN_BYTES && !isLast) return [];
      this.#unpacker = this.#unpackerOf(bytes);
    }
    try {
      this.#unpacker.push(bytes, isLast);
    } catch (error) {
      if (error instanceof PlanTesterError) throw error;
      refuse(`The file can't be unpacked (${error instanceof Error ? error.message : String(error)}). Was it sent whole?`);
    }
    return this.#parts;
  }

  #unpackerOf(bytes: Uint8Array): Unpacker {
    const begins = (...known: number[]): boolean => known.every((byte, i) => bytes[i] === byte);
    const isGzip = begins(0x1f, 0x8b);
    const isZip = begins(0x50, 0x4b, 0x03, 0x04);
    this.#isPlain = !isGzip && !isZip;
    if (isGzip) return new Gunzip((text) => this.#text(text));
    return isZip ? this.#archive() : { push: (text) => this.#text(text) };
  }

  /** One file of an archive, which is that of bars. */
  #archive(): Unpacker {
    const names: string[] = [];
    const unzip = new Unzip((file) => {
      if (!BAR_FILES.test(file.name) || file.name.includes("__MACOSX")) return;
      names.push(file.name);
      if (names.length > 1) refuse(`The archive holds several files (${names.join(", ")}). Import them one by one.`);
      file.ondata = (error, text) => {
        if (error) throw error;
        this.#text(text);
      };
      file.start();
    });
    unzip.register(UnzipInflate);
    return {
      push: (part, isLast) => {
        unzip.push(part, isLast);
        if (isLast && names.length === 0)
          refuse("The file is an archive without a file of text or Parquet, or a workbook. Save the sheet as CSV, and import that.");
      },
    };
  }

  #text(text: Uint8Array): void {
    if (text.length === 0) return;
    this.#unpacked += text.length;
    if (this.#unpacked > MOST_BYTES)
      throw new PlanTesterError("limit", `Unpacked the file is larger than ${MOST_BYTES / 2 ** 30} GiB. Split it.`, {});
    if (!this.#hasText) {
      this.#hasText = true;
      if (isParquet(text)) this.#parquet = [];
      if (beginsJson(text)) {
        this.#rows = new JsonRows();
        this.#isPlain = false;
      }
    }
    if (this.#parquet) {
      if (this.#unpacked > MOST_PARQUET)
        throw new PlanTesterError(
          "limit",
          `Unpacked the Parquet file is larger than ${MOST_PARQUET / 2 ** 30} GiB. Import it as it is.`,
          {},
        );
      this.#parquet.push(text);
    } else this.#parts.push(this.#rows ? new TextEncoder().encode(this.#rows.feed(text)) : text);
  }
}

function beginsJson(text: Uint8Array): boolean {
  const first = text.find((byte) => byte > 32 && byte !== 0xef && byte !== 0xbb && byte !== 0xbf);
  return first === 0x7b || first === 0x5b;
}
