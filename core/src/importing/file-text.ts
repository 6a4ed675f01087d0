/** Any file of bars or ticks as CSV text, part by part: text however it is packed, or Parquet. */
import { BarText } from "./bar-text.ts";
import { type FileBytes, isParquet, parquetText, type TextPart } from "./parquet.ts";

const PART_BYTES = 4 * 1024 * 1024;
const HEAD_BYTES = 4;

/** @throws PlanTesterError bad-input, limit for what can't be read */
export async function* textOfFile(file: FileBytes, partBytes = PART_BYTES): AsyncGenerator<TextPart> {
  const head = new Uint8Array(await file.slice(0, Math.min(HEAD_BYTES, file.byteLength)));
  if (isParquet(head)) return yield* parquetText(file);
  const text = new BarText();
  for (let at = 0; at < file.byteLength; at += partBytes) {
    const done = Math.min(file.byteLength, at + partBytes);
    for (const part of text.feed(new Uint8Array(await file.slice(at, done)))) yield { text: part, done };
  }
  for (const part of text.finish()) yield { text: part, done: file.byteLength };
  // Case: a Parquet file in an archive, which is read from its end.
  if (text.parquet) yield* parquetText(text.parquet);
}

/** Whether the text is what the file holds, byte by byte: then it can be looked into anywhere. */
export async function isPlainText(file: FileBytes): Promise<boolean> {
  const head = new Uint8Array(await file.slice(0, Math.min(HEAD_BYTES * 1024, file.byteLength)));
  if (isParquet(head)) return false;
  const text = new BarText();
  text.feed(head);
  return text.isPlain;
}
