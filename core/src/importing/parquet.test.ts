import { gzipSync, zipSync } from "fflate";
import { ByteWriter, parquetWrite, parquetWriteBuffer } from "hyparquet-writer";
import { describe, expect, test } from "vitest";
import type { BarColumns } from "../market/bars.ts";
import { Random } from "../random.ts";
import { readerOf } from "./file-reader.ts";
import { isPlainText, textOfFile } from "./file-text.ts";
import type { FileBytes } from "./parquet.ts";
import { surveyPieces } from "./survey.ts";
import { barsAsFile } from "./write-bars.ts";

const bytesOf = (file: Uint8Array): FileBytes => ({
  byteLength: file.length,
  slice: (start, end = file.length) => new Uint8Array(file.subarray(start, end)).buffer,
});

async function csvOf(file: Uint8Array): Promise<string> {
  const decoder = new TextDecoder();
  let csv = "";
  for await (const { text } of textOfFile(bytesOf(file))) csv += decoder.decode(text, { stream: true });
  return csv;
}

/** Prices with all digits, times with gaps. */
function rough(count: number): BarColumns {
  const random = new Random(11);
  const time = new Float64Array(count);
  const column = (): Float64Array => new Float64Array(count);
  const [open, high, low, close, volume] = [column(), column(), column(), column(), column()];
  for (let i = 0; i < count; i++) {
    time[i] = Date.UTC(2025, 2, 3) + (i + (i > 70 ? 1000 : 0)) * 60_000;
    low[i] = 10 + random.next();
    high[i] = low[i]! + 1;
    open[i] = low[i]! + random.next();
    close[i] = low[i]! + random.next();
    volume[i] = random.next() * 1e6;
  }
  return { time, open, high, low, close, volume, spread: close.map((price) => price / 3000) };
}

async function read(file: Uint8Array): Promise<BarColumns> {
  const text = new TextEncoder().encode(await csvOf(file));
  const { layout, timeframe, questions } = surveyPieces([text.subarray(0, text.lastIndexOf(10, 64 * 1024) + 1)], "UTC");
  expect(questions).toEqual([]);
  const reader = readerOf(layout, timeframe);
  reader.feed(text);
  const { columns, rejected } = reader.finish();
  expect(rejected).toBe(0);
  return columns;
}

describe("bars written as Parquet are read back to the last bit", () => {
  const bars = rough(130_000);
  const [file] = [...barsAsFile(bars, "parquet")];
  test.each<[string, () => Uint8Array]>([
    ["as it is", () => file!],
    ["gzip", () => gzipSync(file!)],
    ["zip", () => zipSync({ "bars.parquet": file! })],
  ])("%s", async (_form, packed) => {
    expect(await read(packed())).toEqual(bars);
    expect(await isPlainText(bytesOf(packed()))).toBe(false);
  });
});

describe("what other programs write", () => {
  const days = [new Date("2025-03-03T09:00:00.250Z"), new Date("2025-03-03T09:00:01Z")];
  const prices = { name: "price", data: [412.25, 412.5], type: "DOUBLE" as const };

  test.each<[string, Parameters<typeof parquetWriteBuffer>[0], string]>([
    ["milliseconds in UTC", { columnData: [{ name: "time", data: days, type: "TIMESTAMP" }, prices] }, "2025-03-03T09:00:00.250Z,412.25"],
    [
      "whole numbers",
      { columnData: [{ name: "time", data: [1741000000123n, 1741000001000n], type: "INT64" }, prices] },
      "1741000000123,412.25",
    ],
    [
      "numbers of 32 bits",
      {
        columnData: [
          { name: "time", data: days },
          { name: "price", data: [412.1, 0.1], type: "FLOAT" },
        ],
      },
      "2025-03-03T09:00:00.250Z,412.1",
    ],
    [
      "texts, and what is not known",
      {
        columnData: [
          { name: "time", data: ["3/31/2025 7:00", "x,y"] },
          { name: "price", data: [null, 2], type: "DOUBLE" },
        ],
      },
      "3/31/2025 7:00,",
    ],
  ])("%s", async (_name, options, line) => {
    expect((await csvOf(new Uint8Array(parquetWriteBuffer(options)))).split("\n")[1]).toBe(line);
  });

  test.each<[string, object, string]>([
    ["a day", { type: "INT32", converted_type: "DATE" }, "2025-03-03"],
    [
      "the wall time of a place",
      { type: "INT64", logical_type: { type: "TIMESTAMP", isAdjustedToUTC: false, unit: "MICROS" } },
      "2025-03-03T09:00:00.250",
    ],
    [
      "nanoseconds in UTC",
      { type: "INT64", logical_type: { type: "TIMESTAMP", isAdjustedToUTC: true, unit: "NANOS" } },
      "2025-03-03T09:00:00.250Z",
    ],
  ])("%s", async (_name, element, text) => {
    const writer = new ByteWriter();
    parquetWrite({
      writer,
      columnData: [
        { name: "day", data: days },
        { name: "price", data: [1, 2] },
      ],
      schema: [
        { name: "root", num_children: 2 },
        { name: "day", repetition_type: "REQUIRED", ...element } as never,
        { name: "price", type: "DOUBLE", repetition_type: "REQUIRED" },
      ],
    });
    expect((await csvOf(new Uint8Array(writer.getBuffer()))).split("\n")[1]).toBe(`${text},1`);
  });
});

describe("what can't be read is told", () => {
  const [whole] = [...barsAsFile(rough(500), "parquet")];
  test.each<[string, Uint8Array, RegExp]>([
    ["cut off", whole!.subarray(0, whole!.length - 60), /^The Parquet file can't be read \(.*\)\. Was it sent whole\?$/],
    ["its first letters alone", whole!.subarray(0, 4), /can't be read/],
    ["cut off, in an archive", zipSync({ "bars.parquet": whole!.subarray(0, 300) }), /can't be read/],
  ])("%s", async (_name, file, message) => {
    await expect(csvOf(file)).rejects.toThrow(message);
  });

  test("bytes changed in the middle end in a refusal or in other numbers, never in another error", async () => {
    const random = new Random(3);
    for (let round = 0; round < 60; round++) {
      const file = whole!.slice();
      for (let k = 0; k < 4; k++) file[4 + Math.floor(random.next() * (file.length - 4))] = Math.floor(random.next() * 256);
      const came = await csvOf(file).then(
        () => "text",
        (error: Error & { code?: string }) => error.code,
      );
      expect(["text", "bad-input"]).toContain(came);
    }
  });
});
