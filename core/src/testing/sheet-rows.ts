/** Sheets written down by their sentences, for tests. */
import { emptySheet } from "../sheet/empty-sheet.ts";
import { readRules } from "../sheet/read-sentence.ts";
import type { RuleSheet, SheetPart, SheetRow } from "../sheet/sheet.ts";

/** A row of a sentence: "close crosses above the SMA (20) of close"; its name ahead of a colon: "trend: close is above open". */
export function rowOf(text: string, id: string): SheetRow {
  const [, name = "", sentence] = /^(?:(\w[\w ]*): )?(.*)$/s.exec(text)!;
  const [only] = readRules(sentence!).rows;
  return { kind: "row", id, name, comment: "", isOff: false, ...only! };
}

/** A sheet whose parts are lists of sentences, all of which have to hold. */
export function sheetOf(parts: Partial<Record<SheetPart, readonly string[]>>, more: Partial<Omit<RuleSheet, SheetPart>> = {}): RuleSheet {
  const sheet = emptySheet("A test sheet");
  const filled = Object.entries(parts).map(([part, texts]) => [
    part,
    { ...sheet[part as SheetPart], rules: texts.map((text, i) => rowOf(text, `${part}${i}`)) },
  ]);
  return { ...sheet, ...more, ...Object.fromEntries(filled) };
}
