/** A study in one line: as a program says it, and as a rule sheet does. */
import { expressionOf, OWN_BARS, type SheetValue, type StudyDefinition, spokenStudy, valueText } from "@plan-tester/core";

/** A text expression's names of prices and studies, as a program has them. */
const inProgram = (expression: string): string =>
  expression.replace(/\b(open|high|low|close|volume|spread)\b(?!\()/g, "bars.$1").replace("barsSinceOpen()", "barsSinceOpen(bars)");

/** `const range = atr(bars, 14);` */
export function programLine(study: StudyDefinition): string {
  const { name, inputs, outputs } = study;
  const [, given = ""] = /^\w+\((.*)\)/.exec(expressionOf(study)) ?? [];
  const columns = inProgram(given);
  const takesBars = inputs.some(({ kind }) => kind === "bars");
  const call = `${name}(${[...(takesBars ? ["bars"] : []), ...(columns === "" ? [] : [columns])].join(", ")})`;
  return outputs.length > 1 ? `const { ${outputs.join(", ")} } = ${call};` : `const ${name}1 = ${call};`;
}

/** "the Bollinger band upper (20, 2) of close" */
export function sheetWords(study: StudyDefinition): string {
  const price = (name: "close" | "volume"): SheetValue => ({ kind: "price", price: name, on: OWN_BARS, ago: null });
  const sinceOpen: SheetValue = {
    kind: "study",
    study: "barsSinceOpen",
    output: "value",
    numbers: [],
    sources: [],
    on: OWN_BARS,
    ago: null,
  };
  return valueText({
    kind: "study",
    study: study.name,
    output: study.outputs[0]!,
    numbers: study.inputs.flatMap((input) => (input.kind === "number" ? [input.default] : [])),
    sources: study.inputs.flatMap((input) => {
      if (input.kind !== "column") return [];
      if (input.name === "anchor" || input.name === "length") return [sinceOpen];
      return [price(input.name === "volume" || input.name === "other" ? "volume" : "close")];
    }),
    on: OWN_BARS,
    ago: null,
  });
}

/** Whether all words of a search are in what is known of a study. */
export function isFound(study: StudyDefinition, search: string): boolean {
  const { name, group, summary, formula, source, unit, outputs } = study;
  const text = [name, spokenStudy(name), group, summary, formula, source, unit, ...outputs].join(" ").toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
