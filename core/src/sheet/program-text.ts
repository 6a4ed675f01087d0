/** A program under construction: what is imported, declared ahead, taken from build's argument, and its lines. */
import type { BarNames } from "./codes.ts";
import { camelCase, Identifiers } from "./identifiers.ts";
import type { NumberMap } from "./map-numbers.ts";
import { ProgramInputs, quoted, safeText } from "./program-inputs.ts";
import type { RuleSheet, Where } from "./sheet.ts";

interface Line {
  readonly text: string;
  readonly rowId: string | null;
}

export class ProgramText {
  readonly names = new Identifiers();
  /** Their names are fields of an object: any will do. */
  readonly inputs = new ProgramInputs(new Identifiers([]));
  readonly barNames: BarNames = { bars: (on) => this.#barsOf(on), own: (module, study) => this.#own(module, study) };
  readonly #imports = new Map<string, Set<string>>();
  readonly #barNames = new Map<string, string>();
  readonly #exitStudies = new Map<string, string>();
  readonly #head: string[] = [];
  readonly #body: Line[] = [];
  readonly #taken = new Set<string>(["bars", "inputs"]);

  add(text: string, rowId: string | null = null): void {
    this.#body.push({ text, rowId });
  }

  /** An empty line, unless there is one. */
  gap(): void {
    if (this.#body.length > 0 && this.#body.at(-1)!.text !== "") this.add("");
  }

  /** A line ahead of all others: what they rest on. */
  addHead(text: string): void {
    this.#head.push(text);
  }

  /** Takes names from build's argument. */
  use(...names: string[]): void {
    for (const name of names) this.#taken.add(name);
  }

  #barsOf(on: Where): string {
    const { timeframe, instrument } = on;
    if (timeframe === "" && instrument === "") return "bars";
    const key = `${instrument} ${timeframe}`;
    const known = this.#barNames.get(key);
    if (known) return known;
    const name = this.names.take(camelCase(`${instrument === "" ? "bars" : `${instrument.toLowerCase()} bars`} ${timeframe}`));
    this.#barNames.set(key, name);
    if (timeframe !== "") this.#head.push(`const ${name} = ${this.#barsOf({ timeframe: "", instrument })}.at("${timeframe}");`);
    else {
      this.use("market");
      this.#head.push(`const ${name} = market(${this.inputs.instrument(instrument)}).bars;`);
    }
    return name;
  }

  #own(module: string, study: string): string {
    const names = this.#imports.get(module) ?? new Set();
    this.#imports.set(module, names.add(study));
    return study;
  }

  /** The name of a study that exits use, by its expression. */
  exitStudy(text: string): string {
    const known = this.#exitStudies.get(text);
    if (known) return known;
    const name = this.names.take(camelCase(`${/^[A-Za-z]\w*/.exec(text)?.[0] ?? "exit"} distance`));
    this.#head.push(`const ${name} = readColumn(${JSON.stringify(text)}, bars);`);
    this.#exitStudies.set(text, name);
    return name;
  }

  /** Numbers and times become inputs named after the rule. */
  mapFor(rule: { readonly base: string; readonly about: string; readonly group: string }): NumberMap<number, string> {
    return {
      number: (value, role) => this.inputs.ofRule(value, role, rule),
      time: (value, end) =>
        this.inputs.time(camelCase(`${rule.base || "hours"} ${end}`), value, end === "from" ? "From" : "To", rule.group),
    };
  }

  /** All of it, and the row that each line says. */
  assemble({ title, description }: Pick<RuleSheet, "title" | "description">): {
    readonly source: string;
    readonly rowOfLine: ReadonlyMap<number, string>;
  } {
    const lines: Line[] = [];
    const add = (text: string, rowId: string | null = null): void => void lines.push({ text, rowId });
    for (const [module, names] of this.#imports) add(`import { ${[...names].join(", ")} } from ${JSON.stringify(module)};`);
    if (this.#imports.size > 0) add("");
    for (const text of wrapped(safeText(description))) add(`// ${text}`);
    add("export default plan({");
    add(`  title: ${quoted(title)},`);
    if (this.inputs.lines.length > 0) {
      add("  inputs: {");
      for (const line of this.inputs.lines) add(`    ${line}`);
      add("  },");
    }
    add(`  build({ ${[...this.#taken].filter((name) => name !== "inputs" || this.inputs.lines.length > 0).join(", ")} }) {`);
    for (const line of this.#head) add(`    ${line}`);
    if (this.#head.length > 0) add("");
    for (const { text, rowId } of this.#body) add(text === "" ? "" : `    ${text}`, rowId);
    while (lines.at(-1)?.text === "") lines.pop();
    add("  },");
    add("});");
    return {
      source: `${lines.map(({ text }) => text).join("\n")}\n`,
      rowOfLine: new Map(lines.flatMap(({ rowId }, i) => (rowId === null ? [] : [[i + 1, rowId] as const]))),
    };
  }
}

/** A text in lines of at most 110 characters; none for an empty one. */
export function wrapped(text: string): string[] {
  const lines: string[] = [];
  for (const word of text.split(" ").filter((one) => one !== "")) {
    if (lines.length > 0 && `${lines.at(-1)} ${word}`.length <= 110) lines[lines.length - 1] += ` ${word}`;
    else lines.push(word);
  }
  return lines;
}
