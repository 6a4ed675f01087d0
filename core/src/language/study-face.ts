/** The studies as the editor and the reference show them, made from their metadata. */
import { STUDIES } from "../studies/catalogue.ts";
import { STUDY_GROUPS, type StudyDefinition, type StudyInput } from "../studies/definition.ts";

const typeOf = (input: StudyInput): string =>
  input.kind === "bars" ? "bars: Bars" : input.kind === "column" ? `${input.name}: Column` : `${input.name}?: number`;

const resultOf = ({ outputs }: StudyDefinition): string =>
  outputs.length === 1 ? "Column" : `{ ${outputs.map((output) => `readonly ${output}: Column`).join("; ")} }`;

const boundsOf = (input: StudyInput): string =>
  input.kind === "number"
    ? `\`${input.name}\` ${input.whole ? "whole, " : ""}${input.min} to ${input.max}, ${input.default} when left out`
    : "";

/** Type declarations with hover texts. */
export function studyTypes(): string {
  const one = (study: StudyDefinition): string => {
    const bounds = study.inputs.map(boundsOf).filter((text) => text !== "");
    return [
      "/**",
      ` * ${study.summary}. Unit: ${study.unit}.`,
      ` * Formula: ${study.formula}.`,
      ` * First value: ${study.warmUp}.${bounds.length > 0 ? ` Inputs: ${bounds.join("; ")}.` : ""}`,
      " */",
      `declare function ${study.name}(${study.inputs.map(typeOf).join(", ")}): ${resultOf(study)};`,
    ].join("\n");
  };
  return `// Made from the studies' metadata by \`npm run faces\`; a test holds it to that.\n\n${STUDIES.map(one).join("\n\n")}\n`;
}

const cell = (text: string): string => text.replaceAll("|", "\\|");

/** Columns that an example gives to inputs of these names. */
const EXAMPLE_COLUMNS: Readonly<Record<string, string>> = {
  volume: "volume",
  other: "volume",
  anchor: "barsSinceOpen()",
  length: "barsSinceOpen()",
};

/** How a study is called in a text expression, where bars need not be named. */
export function expressionOf(study: StudyDefinition, output = study.outputs[0]!): string {
  const args = study.inputs.flatMap((input) =>
    input.kind === "bars" ? [] : input.kind === "column" ? [EXAMPLE_COLUMNS[input.name] ?? "close"] : [String(input.default)],
  );
  return `${study.name}(${args.join(", ")})${study.outputs.length > 1 ? `.${output}` : ""}`;
}

/** The reference of all studies, in Markdown, by group. */
export function studyReference(): string {
  const rows = (group: string): string =>
    STUDIES.filter((study) => study.group === group)
      .map((study) => {
        const inputs = study.inputs.map((input) => boundsOf(input) || (input.kind === "bars" ? "bars" : input.name));
        return `| \`${study.name}\` | ${[study.summary, inputs.join("; "), study.outputs.join(", "), study.unit, study.formula, study.warmUp, study.source, `\`${expressionOf(study)}\``].map(cell).join(" | ")} |`;
      })
      .join("\n");
  const sections = STUDY_GROUPS.map(
    (group) =>
      `## ${group[0]!.toUpperCase()}${group.slice(1)}\n\n| study | what it is | inputs | outputs | unit | formula | first full value | source | as text |\n|---|---|---|---|---|---|---|---|---|\n${rows(group)}\n`,
  );
  return `# Studies\n\nMade from the studies' metadata by \`npm run faces\`. Every study sees whole columns of the past only; before its first full value it is NaN, and plans wait for it. *Studies* (Ctrl+K) shows each on a chart, with lines to copy.\n\n${sections.join("\n")}`;
}
