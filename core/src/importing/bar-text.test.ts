import { gzipSync, strToU8, zipSync } from "fflate";
import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { BarText } from "./bar-text.ts";

/** A file's text, fed in parts of random length. */
function textOf(file: Uint8Array, seed: number): string {
  const random = new Random(seed);
  const reader = new BarText();
  const parts: Uint8Array[] = [];
  for (let at = 0; at < file.length; ) {
    const to = Math.min(file.length, at + 1 + Math.floor(random.next() * 40));
    parts.push(...reader.feed(file.subarray(at, to)));
    at = to;
  }
  parts.push(...reader.finish());
  const decoder = new TextDecoder();
  return parts.map((part) => decoder.decode(part, { stream: true })).join("") + decoder.decode();
}

const CSV = "time,open,high,low,close\n2025-03-03T09:00:00Z,1,2,0.5,1.5\n2025-03-03T09:01:00Z,1.5,2,1,1.25\n";
const ROWS = [
  { time: "2025-03-03T09:00:00Z", open: 1, high: 2, low: 0.5, close: 1.5 },
  { time: "2025-03-03T09:01:00Z", open: 1.5, high: 2, low: 1, close: 1.25 },
];
const lines = ROWS.map((row) => JSON.stringify(row)).join("\n");

describe("comes as the same text", () => {
  const files: readonly (readonly [string, Uint8Array])[] = [
    ["plain", strToU8(CSV)],
    ["gzip", gzipSync(strToU8(CSV))],
    ["zip", zipSync({ "bars.csv": strToU8(CSV) })],
    ["zip with a folder and a note", zipSync({ "data/bars.csv": strToU8(CSV), "data/picture.png": strToU8("no text") })],
    ["JSON array", strToU8(JSON.stringify(ROWS))],
    ["JSON array, written wide", strToU8(`\n ${JSON.stringify(ROWS, null, 2)}`)],
    ["JSON lines", strToU8(lines)],
    ["JSON lines, packed", gzipSync(strToU8(lines))],
    ["JSON in an archive", zipSync({ "bars.json": strToU8(JSON.stringify(ROWS)) })],
  ];
  test.each(files)("%s", (_name, file) => {
    for (let seed = 1; seed <= 5; seed++) expect(textOf(file, seed)).toBe(CSV);
  });
});

test("arrays of numbers are lines without a head", () => {
  for (const text of [
    "[[1741000000000,1,2,0.5,1.5],[1741000060000,1.5,2,1,1.25]]",
    "[ 1741000000000,1,2,0.5,1.5]\n[1741000060000,1.5,2,1,1.25]",
  ])
    expect(textOf(strToU8(text), 3)).toBe("1741000000000,1,2,0.5,1.5\n1741000060000,1.5,2,1,1.25\n");
  expect(textOf(strToU8("[]"), 3)).toBe("");
});

test("texts with commas, quotes and brackets are one field; what is nested or missing is empty; other names come in no order", () => {
  const rows = `{"a":"x, \\"y\\" }","b":{"c":1},"d":2}\n{"d":null,"a":"[é]"}`;
  expect(textOf(strToU8(rows), 2)).toBe('a,b,d\n"x,  y  }",,2\n[é],,\n');
});

test("a row that is no JSON comes out as a line that is no bar, and the next one is read", () => {
  expect(textOf(strToU8(`${lines}\n{"time": nonsense, "open": 1}\n${lines}`), 4).split("\n")).toEqual([
    ...CSV.trimEnd().split("\n"),
    '{"time": nonsense  "open": 1}',
    ...CSV.trimEnd().split("\n").slice(1),
    "",
  ]);
});

test.each([
  ["several files", zipSync({ "a.csv": strToU8(CSV), "b.csv": strToU8(CSV) }), /holds several files \(a\.csv, b\.csv\)/],
  ["a workbook", zipSync({ "[Content_Types].xml": strToU8("<x/>") }), /without a file of text or Parquet, or a workbook/],
  ["a broken archive", strToU8("PK\u0003\u0004packed"), /without a file of text or Parquet/],
  ["gzip cut off", gzipSync(strToU8(CSV.repeat(50))).slice(0, 60), /can't be unpacked/],
] as const)("%s is refused in words", (_name, file, words) => {
  expect(() => textOf(file, 1)).toThrow(words);
});
