import { NO_EXITS } from "../engine/kit.ts";
import { type RuleSheet, SHEET_PARTS, type SheetGroup, type SheetPart } from "./sheet.ts";

const emptyPart = (part: SheetPart): SheetGroup => ({
  kind: "group",
  id: part,
  name: "",
  comment: "",
  isOff: false,
  of: "all",
  rules: [],
});

/** A sheet that says nothing yet. */
export function emptySheet(title: string): RuleSheet {
  return {
    version: 1,
    title,
    description: "",
    shortMirrorsLong: false,
    entersOn: "beginning",
    ...(Object.fromEntries(SHEET_PARTS.map((part) => [part, emptyPart(part)])) as Record<SheetPart, SheetGroup>),
    longWindow: null,
    shortWindow: null,
    order: { kind: "market" },
    longExits: NO_EXITS,
    shortExits: null,
    size: null,
    guards: { whileOpen: "wait", entriesPerSession: null, coolDownBars: null },
    acts: "orders",
  };
}
