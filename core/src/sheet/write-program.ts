/**
 * The program of a rule sheet: what is run, and what one goes on with in code. Every number is an input, every rule a
 * named condition under its own sentence. The same sheet gives the same text.
 */

import { type BarNames, rowCode, valueCode } from "./codes.ts";
import { ExitsCode, sizeCode } from "./exits-code.ts";
import { camelCase, Identifiers } from "./identifiers.ts";
import { mapRow, mapValue, type NumberMap } from "./map-numbers.ts";
import { mirrorValue } from "./mirror.ts";
import { aboutOf, capital, ProgramInputs, quoted, safeText, testName } from "./program-inputs.ts";
import type { RuleSheet, SheetGroup, SheetPart, SheetRow, SheetRule, SheetValue, Where } from "./sheet.ts";
import { checkSheet } from "./sheet-problems.ts";
import { rulesOfSides, type SideRules, sidesOf } from "./sides.ts";
import { activeRules, rowText } from "./words.ts";

export interface WrittenProgram {
  readonly source: string;
  /** The row that each line says, by line number from 1; lines of no row are not in it. */
  readonly rowOfLine: ReadonlyMap<number, string>;
  /** The name of each row's condition, by its part and id: "longEntry:a"; of a whole part by its own: "longEntry". */
  readonly conditions: ReadonlyMap<string, string>;
  /** Each input with what it is where nothing else is set. */
  readonly inputs: ReadonlyMap<string, number | string>;
}

interface Line {
  readonly text: string;
  readonly rowId: string | null;
}

/** A condition by its name in the program, and whether it is a moment (a crossing) or a state. */
interface Named {
  readonly code: string;
  readonly isMoment: boolean;
}

type SideName = "long" | "short";

/** @throws PlanTesterError bad-plan naming what does not fit in the sheet */
export function writeProgram(sheet: RuleSheet): WrittenProgram {
  checkSheet(sheet);
  return new ProgramWriter(sheet).write();
}

class ProgramWriter {
  readonly #sheet: RuleSheet;
  readonly #names = new Identifiers();
  readonly #inputs = new ProgramInputs(this.#names);
  readonly #imports = new Map<string, Set<string>>();
  readonly #barNames = new Map<string, string>();
  readonly #exitStudies = new Map<string, string>();
  /** Declarations that others rest on: bars of higher timeframes and other instruments, studies of exits. */
  readonly #head: string[] = [];
  readonly #body: Line[] = [];
  readonly #conditions = new Map<string, string>();
  readonly #taken = new Set<string>(["bars", "inputs"]);
  readonly #barCodes: BarNames = { bars: (on) => this.#barsOf(on), own: (module, study) => this.#own(module, study) };

  constructor(sheet: RuleSheet) {
    this.#sheet = sheet;
  }

  write(): WrittenProgram {
    const { title, description } = this.#sheet;
    this.#rules();
    const lines: Line[] = [];
    const add = (text: string, rowId: string | null = null): void => void lines.push({ text, rowId });
    for (const [module, names] of this.#imports) add(`import { ${[...names].join(", ")} } from ${JSON.stringify(module)};`);
    if (this.#imports.size > 0) add("");
    for (const text of wrapped(safeText(description))) add(`// ${text}`);
    add("export default plan({");
    add(`  title: ${quoted(title)},`);
    if (this.#inputs.lines.length > 0) {
      add("  inputs: {");
      for (const line of this.#inputs.lines) add(`    ${line}`);
      add("  },");
    }
    add(`  build({ ${[...this.#taken].filter((name) => name !== "inputs" || this.#inputs.lines.length > 0).join(", ")} }) {`);
    for (const line of this.#head) add(`    ${line}`);
    if (this.#head.length > 0) add("");
    for (const { text, rowId } of this.#body) add(text === "" ? "" : `    ${text}`, rowId);
    while (lines.at(-1)?.text === "") lines.pop();
    add("  },");
    add("});");
    return {
      source: `${lines.map(({ text }) => text).join("\n")}\n`,
      rowOfLine: new Map(lines.flatMap(({ rowId }, i) => (rowId === null ? [] : [[i + 1, rowId] as const]))),
      conditions: this.#conditions,
      inputs: this.#inputs.defaults,
    };
  }

  #add(text: string, rowId: string | null = null): void {
    this.#body.push({ text, rowId });
  }

  #gap(): void {
    if (this.#body.length > 0 && this.#body.at(-1)!.text !== "") this.#add("");
  }

  /** Takes names from build's argument. */
  #use(...names: string[]): void {
    for (const name of names) this.#taken.add(name);
  }

  #barsOf(on: Where): string {
    const { timeframe, instrument } = on;
    if (timeframe === "" && instrument === "") return "bars";
    const key = `${instrument} ${timeframe}`;
    const known = this.#barNames.get(key);
    if (known) return known;
    const name = this.#names.take(camelCase(`${instrument === "" ? "bars" : `${instrument.toLowerCase()} bars`} ${timeframe}`));
    this.#barNames.set(key, name);
    if (timeframe !== "") this.#head.push(`const ${name} = ${this.#barsOf({ timeframe: "", instrument })}.at("${timeframe}");`);
    else {
      this.#use("market");
      this.#head.push(`const ${name} = market(${this.#inputs.instrument(instrument)}).bars;`);
    }
    return name;
  }

  #own(module: string, study: string): string {
    const names = this.#imports.get(module) ?? new Set();
    this.#imports.set(module, names.add(study));
    return study;
  }

  #exitStudy(text: string): string {
    const known = this.#exitStudies.get(text);
    if (known) return known;
    const name = this.#names.take(camelCase(`${/^[A-Za-z]\w*/.exec(text)?.[0] ?? "exit"} distance`));
    this.#head.push(`const ${name} = readColumn(${JSON.stringify(text)}, bars);`);
    this.#exitStudies.set(text, name);
    return name;
  }

  /** A group with code in place of its numbers. */
  #inCode(group: SheetGroup, suffix: string): SheetGroup<string> {
    const code = (rule: SheetRule): SheetRule<string> =>
      rule.kind === "group" ? { ...rule, rules: activeRules(rule).map(code) } : this.#rowInCode(rule, suffix);
    return { ...group, rules: activeRules(group).map(code) };
  }

  #rowInCode(row: SheetRow, suffix: string): SheetRow<string> {
    const group = capital(safeText(row.name) || rowText(row));
    const base = row.name === "" ? "" : camelCase(row.name);
    const rule = { base: base && base + suffix, about: aboutOf(row.test), group: group.length > 60 ? `${group.slice(0, 58)}…` : group };
    return mapRow(row, this.#mapFor(rule));
  }

  /** Numbers and times become inputs named after the rule. */
  #mapFor(rule: { readonly base: string; readonly about: string; readonly group: string }): NumberMap<number, string> {
    return {
      number: (value, role) => this.#inputs.ofRule(value, role, rule),
      time: (value, end) =>
        this.#inputs.time(camelCase(`${rule.base || "hours"} ${end}`), value, end === "from" ? "From" : "To", rule.group),
    };
  }

  #rules(): void {
    const sheet = this.#sheet;
    const parts = {
      longEntry: this.#inCode(sheet.longEntry, ""),
      longExit: this.#inCode(sheet.longExit, ""),
      shortEntry: this.#inCode(sheet.shortEntry, sheet.shortMirrorsLong ? "Short" : ""),
      shortExit: this.#inCode(sheet.shortExit, sheet.shortMirrorsLong ? "Short" : ""),
    };
    const code = sidesOf(sheet, parts, (number, about) => (about === 0 ? `-${number}` : `${about} - ${number}`));
    const words = rulesOfSides(sheet);
    const filters = this.#group(this.#inCode(sheet.filters, ""), sheet.filters, "filters", "Filters of every entry", "");
    this.#guardsHead();
    const exits = this.#exits(code);
    for (const side of ["long", "short"] as const) {
      const suffix = side === "short" && sheet.shortMirrorsLong ? "Short" : "";
      const entry = this.#group(code[side].entry, words[side].entry, `${side}Entry`, `${side === "long" ? "Long" : "Short"} entry`, suffix);
      if (entry) this.#entry(side, entry, filters, exits);
      const exit = this.#group(code[side].exit, words[side].exit, `${side}Exit`, `${side === "long" ? "Long" : "Short"} exit`, suffix);
      if (exit) this.#exit(side, exit);
    }
    this.#guardsTail();
  }

  /** Declares the rows of a part, each under its sentence; answers their combination, or null when there is none. */
  #group(code: SheetGroup<string>, words: SheetGroup, part: SheetPart, heading: string, suffix: string): Named | null {
    const rules = activeRules(code);
    if (rules.length === 0) return null;
    this.#gap();
    this.#add(`// ${heading}`);
    const sentences = new Map<string, SheetRow>();
    const collect = (rule: SheetRule): void => {
      if (rule.kind === "row") sentences.set(rule.id, rule);
      else for (const inner of rule.rules) collect(inner);
    };
    collect(words);
    const whole = this.#combined({ ...code, rules }, (row) => {
      const { name, comment } = row;
      const sentence = rowText(sentences.get(row.id)!);
      for (const text of wrapped(safeText(comment))) this.#add(`// ${text}`, row.id);
      this.#add(`// ${safeText(name) ? `${safeText(name)}: ${sentence}` : sentence}`, row.id);
      const variable = this.#names.take(camelCase(name === "" ? testName(row.test) : `${name}${suffix === "" ? "" : ` ${suffix}`}`));
      this.#conditions.set(`${part}:${row.id}`, variable);
      this.#add(`const ${variable} = ${rowCode(row, this.#barCodes)};`, row.id);
      const isMoment =
        row.test.kind === "compare" && row.test.relation.startsWith("crosses") && row.heldFor === null && row.within === null;
      return { code: variable, isMoment };
    });
    const isNamed = /^\w+$/.test(whole.code);
    const name = isNamed ? whole.code : this.#names.take(part);
    this.#conditions.set(part, name);
    if (!isNamed) this.#add(`const ${name} = ${whole.code};`);
    return { ...whole, code: name };
  }

  #combined(group: SheetGroup<string>, declare: (row: SheetRow<string>) => Named): Named {
    const parts = group.rules.map((rule) => (rule.kind === "row" ? declare(rule) : this.#combined(rule, declare)));
    const [first, ...rest] = parts as [Named, ...Named[]];
    const word = group.of === "all" ? "and" : "or";
    const joined = first.code + rest.map(({ code }) => `.${word}(${code})`).join("");
    if (group.of === "none") return { code: `${joined}.not()`, isMoment: false };
    const isMoment = group.of === "all" ? parts.some((part) => part.isMoment) : parts.every((part) => part.isMoment);
    return { code: joined, isMoment };
  }

  /** What counts entries and losses, ahead of the rules. */
  #guardsHead(): void {
    const { guards, acts } = this.#sheet;
    if (acts === "alerts") return;
    if (guards.entriesPerSession !== null) {
      this.#use("on");
      this.#gap();
      this.#add("let entries = 0;");
      this.#add("on.sessionOpen(() => { entries = 0; });");
      this.#add("on.opened(() => { entries++; });");
    }
    if (guards.coolDownBars !== null) {
      const role = { whole: true, min: 0, max: null, unit: "bars" };
      const bars = this.#inputs.number("coolDown", guards.coolDownBars, role, "Cool-down after a loss", "Guards");
      this.#use("on");
      this.#gap();
      this.#add("let coolDown = 0;");
      this.#add(`on.closed((trade) => { if (trade.net < 0) coolDown = ${bars}; });`);
    }
  }

  /** The bar that ends counts for the cool-down after all rules have seen it. */
  #guardsTail(): void {
    if (this.#sheet.acts === "alerts" || this.#sheet.guards.coolDownBars === null) return;
    this.#gap();
    this.#add("on.barClose(() => { if (coolDown > 0) coolDown--; });");
  }

  /** Declares what is put on entries; answers the name of the options of each side, "" for none. */
  #exits(code: { readonly long: SideRules<string>; readonly short: SideRules<string> }): Record<SideName, string> {
    const { acts, longExits, shortExits, size } = this.#sheet;
    const names: Record<SideName, string> = { long: "", short: "" };
    if (acts === "alerts") return names;
    const sides = (["long", "short"] as const).filter((side) => activeRules(code[side].entry).length > 0);
    if (sides.length === 0) return names;
    const sizeOption = size ? [sizeCode(size, this.#inputs)] : [];
    const isShared = shortExits === null;
    let shared: { name: string; flat: string | null } | null = null;
    for (const side of sides) {
      const made: { name: string; flat: string | null } =
        isShared && shared ? shared : this.#exitOptions(side, isShared, isShared || side === "long" ? longExits : shortExits!, sizeOption);
      if (isShared) shared = made;
      names[side] = made.name;
      if (made.flat !== null) this.#flatMinutes.set(side, made.flat);
    }
    this.#flat();
    return names;
  }

  #exitOptions(
    side: SideName,
    isShared: boolean,
    exits: RuleSheet["longExits"],
    size: readonly string[],
  ): { name: string; flat: string | null } {
    const writer = new ExitsCode(this.#inputs, (text) => this.#exitStudy(text), isShared ? "" : side);
    const options = [...size, ...writer.options(exits)];
    const flat = writer.flatMinutes(exits);
    if (options.length === 0) return { name: "", flat };
    const name = this.#names.take(isShared ? "exits" : `${side}Exits`);
    this.#gap();
    this.#add(`// Size and exits of ${isShared ? "every" : `a ${side}`} entry`);
    this.#add(`const ${name} = {`);
    for (const option of options) this.#add(`  ${option},`);
    this.#add("};");
    return { name, flat };
  }

  /** Minutes ahead of the close at which each side is flat. */
  readonly #flatMinutes = new Map<SideName, string>();

  #flat(): void {
    const sides = [...this.#flatMinutes];
    if (sides.length === 0) return;
    this.#use("on", "exit", "orders");
    this.#gap();
    this.#add("// Nothing is held into the close");
    this.#add("const minutesLeft = minutesToClose(bars);");
    const [[, first], second] = sides as [[SideName, string], [SideName, string] | undefined];
    const isAll = second?.[1] === first;
    for (const [side, minutes] of isAll ? sides.slice(0, 1) : sides) {
      this.#add(`on.beforeClose(${minutes}, () => {`);
      this.#add("  orders.cancelAll();");
      this.#add(isAll ? '  exit.all("flat");' : `  exit.${side}({ tag: "flat" });`);
      this.#add("});");
    }
  }

  #entry(side: SideName, entry: Named, filters: Named | null, exits: Readonly<Record<SideName, string>>): void {
    const { entersOn, acts, order } = this.#sheet;
    const isBeginning = !entry.isMoment && entersOn === "beginning";
    const isMoment = entry.isMoment || isBeginning;
    const rule = isBeginning ? `becomes(${entry.code})` : entry.code;
    const condition = filters ? `${rule}.and(${filters.code})` : rule;
    this.#use(isMoment ? "when" : "during");
    const isPending = acts === "orders" && order.kind !== "market";
    if (isPending) this.#add(`let ${side}Order: Order | undefined;`);
    this.#add(`${isMoment ? "when" : "during"}(${condition}, () => {`);
    for (const line of acts === "alerts" ? this.#alert(side, "entry") : this.#order(side, exits[side])) this.#add(`  ${line}`);
    this.#add("});");
    if (isPending && this.#sheet.guards.whileOpen === "wait") {
      this.#use("on");
      this.#add(`on.opened(() => { ${side}Order?.cancel(); });`);
    }
  }

  #alert(side: SideName, what: "entry" | "exit"): string[] {
    this.#use("log");
    const window = what === "entry" ? this.#window(side) : [];
    return [...window, `log(${quoted(`${this.#sheet.title}: ${side} ${what}`)}, "alert");`];
  }

  #window(side: SideName): string[] {
    const window = side === "long" ? this.#sheet.longWindow : this.#sheet.shortWindow;
    if (!window) return [];
    const group = `Entry window, ${side}`;
    if (window.by === "clock") {
      this.#use("clock");
      const from = this.#inputs.time(`${side}From`, window.from, "From", group);
      return [`if (!clock.between(${from}, ${this.#inputs.time(`${side}To`, window.to, "To", group)})) return;`];
    }
    const role = { whole: true, min: 0, max: null, unit: "bars" };
    const from = this.#inputs.number(`${side}FromBar`, window.from, role, "From bar of the session", group);
    const to = this.#inputs.number(`${side}ToBar`, window.to, role, "To bar of the session", group);
    const name = this.#names.take(`${side}Bar`);
    this.#head.push(`const ${name} = barsSinceOpen(bars);`);
    return [`if (${name}.now < ${from} || ${name}.now > ${to}) return;`];
  }

  #order(side: SideName, exits: string): string[] {
    const { order, guards } = this.#sheet;
    const isPending = order.kind !== "market";
    const lines: string[] = [];
    this.#use("enter");
    if (isPending) lines.push(`${side}Order?.cancel();`);
    lines.push(...this.#guards(side, isPending), ...this.#window(side));
    const minutesLeft = this.#flatMinutes.get(side);
    if (minutesLeft) lines.push(`if (minutesLeft.now <= ${minutesLeft}) return;`);
    const options = [
      ...(exits === "" ? [] : [`...${exits}`]),
      ...(isPending && order.cancelsOther ? ['group: "entry"'] : []),
      ...(isPending ? [order.goodForBars === 0 ? 'goodFor: "session"' : `goodFor: ${this.#goodFor(order.goodForBars)}`] : []),
      ...(guards.whileOpen === "reverse" ? ["reverse: true"] : []),
      `tag: "${side}"`,
    ].join(", ");
    lines.push(isPending ? `${side}Order = enter.${this.#pending(side, order)}, { ${options} });` : `enter.${side}({ ${options} });`);
    return lines;
  }

  #goodForInput = "";
  #goodFor(bars: number): string {
    const role = { whole: true, min: 1, max: null, unit: "bars" };
    this.#goodForInput ||= this.#inputs.number("goodFor", bars, role, "Order works for", "Order");
    return this.#goodForInput;
  }

  #guards(side: SideName, isPending: boolean): string[] {
    const { whileOpen, entriesPerSession, coolDownBars } = this.#sheet.guards;
    const lines: string[] = [];
    if (whileOpen !== "add") this.#use("position");
    if (whileOpen === "wait" && isPending) lines.push("if (!position.flat) return;");
    if (whileOpen === "wait" && !isPending) {
      this.#use("orders");
      lines.push("if (!position.flat || orders.working.length > 0) return;");
    }
    if (whileOpen === "reverse") lines.push(`if (position.${side}) return;`);
    if (entriesPerSession !== null) {
      this.#use("orders");
      lines.push(`if (entries + orders.working.length >= ${this.#mostEntries(entriesPerSession)}) return;`);
    }
    if (coolDownBars !== null) lines.push("if (coolDown > 0) return;");
    return lines;
  }

  #mostEntriesInput = "";
  #mostEntries(count: number): string {
    const role = { whole: true, min: 0, max: null, unit: "entries" };
    this.#mostEntriesInput ||= this.#inputs.number("entriesPerSession", count, role, "Entries per session", "Guards");
    return this.#mostEntriesInput;
  }

  #level: SheetValue<string> | null = null;
  #offset = "";

  /** The call up to its price: "long.stop(level.now + ...". */
  #pending(side: SideName, order: Exclude<RuleSheet["order"], { kind: "market" }>): string {
    if (!this.#level) {
      this.#level = mapValue(order.level, this.#mapFor({ base: "order", about: "order", group: "Order" }));
      if (order.offsetTicks !== 0) {
        const role = { whole: false, min: null, max: null, unit: "ticks" };
        this.#offset = this.#inputs.number("orderOffset", order.offsetTicks, role, "Away by", "Order");
      }
    }
    const level =
      side === "long" ? this.#level : mirrorValue(this.#level, (number, about) => (about === 0 ? `-${number}` : `${about} - ${number}`));
    const name = this.#names.take(`${side}Level`);
    this.#head.push(`const ${name} = ${valueCode(level, this.#barCodes)};`);
    const call = { stop: "stop", limit: "limit", "price given": "at" }[order.kind];
    const isUp = (side === "long") === (order.kind !== "limit");
    const offset = this.#offset === "" ? "" : ` ${isUp ? "+" : "-"} ${this.#offset} * bars.instrument.tickSize`;
    return `${side}.${call}(${name}.now${offset}`;
  }

  #exit(side: SideName, exit: Named): void {
    const { acts } = this.#sheet;
    this.#use(exit.isMoment ? "when" : "during");
    const act = acts === "alerts" ? this.#alert(side, "exit")[0]! : `exit.${side}({ tag: "rule" });`;
    if (acts === "orders") this.#use("exit");
    this.#add(`${exit.isMoment ? "when" : "during"}(${exit.code}, () => ${act.slice(0, -1)});`);
  }
}

/** A text in lines of at most 110 characters; none for an empty one. */
function wrapped(text: string): string[] {
  const lines: string[] = [];
  for (const word of text.split(" ").filter((one) => one !== "")) {
    if (lines.length > 0 && `${lines.at(-1)} ${word}`.length <= 110) lines[lines.length - 1] += ` ${word}`;
    else lines.push(word);
  }
  return lines;
}
