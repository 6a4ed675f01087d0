/** A rule sheet at work: what is written becomes rules, words change them, and the text of the plan follows. */
import { type ConditionsRequest, sheetIn, textOfSheet } from "@plan-tester/contract";
import { emptySheet, type RuleSheet, readRules, rowText, type SheetRow } from "@plan-tester/core";
import { act } from "react";
import { expect, test, vi } from "vitest";
import { control, hold, keyOn, press, serving, type } from "../../testing.tsx";
import { SheetEditor } from "./sheet-editor.tsx";

const row = (text: string, id: string): SheetRow => ({
  ...{ kind: "row", id, name: "", comment: "", isOff: false },
  ...readRules(text).rows[0]!,
});

const EMPTY = emptySheet("A sheet");
const withRow = (text: string): RuleSheet => ({ ...EMPTY, longEntry: { ...EMPTY.longEntry, rules: [row(text, "a")] } });

/** The editor over a draft that is kept here. */
async function edit(sheet: RuleSheet, reveal: { line: number; turn: number } | null = null, inputs: ConditionsRequest["inputs"] = {}) {
  serving((what) =>
    what === "POST /conditions"
      ? { bars: 1000, conditions: [{ text: "closeIsAbove", line: 9, known: 1000, held: 250, began: 40, shares: [0, 0.5, 0.5, 0] }] }
      : {},
  );
  const onCode = vi.fn();
  const first: ConditionsRequest = { source: textOfSheet(sheet), inputs, settings: {} as never };
  const { host, value } = await hold(first, (draft, onChange) => (
    <SheetEditor
      draft={draft}
      markets={[]}
      reveal={reveal}
      program={(text) => <pre>{text}</pre>}
      onChange={(next) => onChange({ ...draft, ...next })}
      onCode={onCode}
    />
  ));
  const part = (name: string): HTMLElement => host.querySelector<HTMLElement>(`section[aria-label="${name}"]`)!;
  return { host, part, onCode, sheet: () => sheetIn(value().source)!, inputs: () => value().inputs };
}

const openTab = async (host: HTMLElement, name: string): Promise<void> => {
  const tab = [...host.querySelectorAll<HTMLElement>("[role=tab]")].find(({ textContent }) => textContent === name)!;
  await act(async () => tab.dispatchEvent(new MouseEvent("mousedown", { bubbles: true, button: 0 })));
};

const words = ({ longEntry }: RuleSheet): string[] => longEntry.rules.map((rule) => (rule.kind === "row" ? rowText(rule) : rule.of));

test("sentences become rules; what can't be read stays, with its word marked", async () => {
  const { host, sheet } = await edit(EMPTY);
  const line = control(host, "Add a rule: Long entry");
  await type(line, "close is above the EMA (50), and volume is above 100");
  await keyOn(line, "Enter");
  expect(words(sheet())).toEqual(["close is above the EMA (50) of close", "volume is above 100"]);
  await type(line, "close is abve 3");
  await keyOn(line, "Enter");
  expect(host.querySelector("[role=alert]")?.textContent).toContain("does not fit");
  expect(line.value).toBe("close is abve 3");
  expect(words(sheet()).length).toBe(2);
});

test("what fits next is offered, and taken by keys", async () => {
  const { host } = await edit(EMPTY);
  const line = control(host, "Add a rule: Long entry");
  await type(line, "close is at or ab");
  expect([...host.querySelectorAll("[role=option]")].map(({ textContent }) => textContent)).toEqual(["is at or above"]);
  await keyOn(line, "ArrowDown");
  await keyOn(line, "Tab");
  expect(line.value).toBe("close is at or above ");
});

test("when a rule holds stands under it", async () => {
  const { part } = await edit(withRow("close is above open"));
  await vi.waitFor(() => expect(part("Long entry").textContent).toContain("on 250 bars (25.0 %), begins 40 times"));
});

test("a word is changed by its own control, and undone", async () => {
  const { host, sheet } = await edit(withRow("close is above open"));
  await press(host, "Relation: is above");
  await press(document.body, "crosses below");
  expect(words(sheet())).toEqual(["close crosses below open"]);
  await press(host, "Undo");
  expect(words(sheet())).toEqual(["close is above open"]);
  await press(host, "Redo");
  expect(words(sheet())).toEqual(["close crosses below open"]);
});

test("mirrored shorts are shown, and not changed in place", async () => {
  const { host, part, sheet } = await edit(withRow("the RSI (14) of close crosses below 30"));
  await control(host, "Shorts mirror longs").click();
  await vi.waitFor(() => expect(part("Short entry").textContent).toContain("the RSI (14) of close crosses above 70"));
  expect(part("Short entry").querySelector('[aria-label^="Relation"]')).toBeNull();
  expect(sheet().shortMirrorsLong).toBe(true);
  expect(sheet().shortEntry.rules).toEqual([]);
});

test("a line of the program leads to its row; words and program are a tab away", async () => {
  const ruled = withRow("close is above open");
  const lines = textOfSheet(ruled).split("\n");
  const line = lines.findIndex((text) => text.includes("const closeIsAbove")) + 1;
  const { host, onCode } = await edit(ruled, { line, turn: 1 });
  expect(host.querySelector('[data-row="a"]')?.className).toContain("outline");
  await openTab(host, "In words");
  expect(host.textContent).toContain("Enters long when close is above open.");
  await openTab(host, "Program");
  expect(host.querySelector("pre")?.textContent).toContain("const closeIsAbove");
  expect(host.querySelector("pre")?.textContent).not.toContain("//! sheet");
  await press(host, "Go on in code");
  expect(onCode).toHaveBeenCalledOnce();
});

test("inputs that are set otherwise are told, and set back", async () => {
  const { host, inputs } = await edit(withRow("the RSI (14) of close crosses below 30"), null, { rsiLevel: 25, rsiSpan: 14 });
  expect(host.textContent).toContain("Set otherwise than the sheet says: rsiLevel 25 (30).");
  await press(host, "As the sheet says");
  expect(inputs()).toEqual({});
  expect(host.textContent).not.toContain("Set otherwise");
});
