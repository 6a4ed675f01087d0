/** What the rules of a sheet bring about, in the program: orders with their exits, guards and windows, or alerts. */
import { valueCode } from "./codes.ts";
import { ExitsCode, sizeCode } from "./exits-code.ts";
import { mapValue } from "./map-numbers.ts";
import { mirrorValue, type TurnNumber } from "./mirror.ts";
import { quoted } from "./program-inputs.ts";
import type { ProgramText } from "./program-text.ts";
import type { RuleSheet, SheetValue } from "./sheet.ts";
import type { SideRules } from "./sides.ts";
import { activeRules } from "./words.ts";

export type SideName = "long" | "short";

/** A condition by its name in the program, and whether it is a moment (a crossing) or a state. */
export interface Named {
  readonly code: string;
  readonly isMoment: boolean;
}

/** A number of the long side turned for the short one. */
export const turnedCode: TurnNumber<string> = (number, about) => (about === 0 ? `-${number}` : `${about} - ${number}`);

export class ActsWriter {
  readonly #sheet: RuleSheet;
  readonly #text: ProgramText;

  constructor(sheet: RuleSheet, text: ProgramText) {
    this.#sheet = sheet;
    this.#text = text;
  }

  /** What counts entries and losses, ahead of the rules. */
  begin(): void {
    const { guards, acts } = this.#sheet;
    if (acts === "alerts") return;
    if (guards.entriesPerSession !== null) {
      this.#text.use("on");
      this.#text.gap();
      this.#text.add("let entries = 0;");
      this.#text.add("on.sessionOpen(() => { entries = 0; });");
      this.#text.add("on.opened(() => { entries++; });");
    }
    if (guards.coolDownBars !== null) {
      const role = { whole: true, min: 0, max: null, unit: "bars" };
      const bars = this.#text.inputs.number("coolDown", guards.coolDownBars, role, "Cool-down after a loss", "Guards");
      this.#text.use("on");
      this.#text.gap();
      this.#text.add("let coolDown = 0;");
      this.#text.add(`on.closed((trade) => { if (trade.net < 0) coolDown = ${bars}; });`);
    }
  }

  /** The bar that ends counts for the cool-down after all rules have seen it. */
  end(): void {
    if (this.#sheet.acts === "alerts" || this.#sheet.guards.coolDownBars === null) return;
    this.#text.gap();
    this.#text.add("on.barClose(() => { if (coolDown > 0) coolDown--; });");
  }

  /** Declares what is put on entries; answers the name of the options of each side, "" for none. */
  exits(code: { readonly long: SideRules<string>; readonly short: SideRules<string> }): Record<SideName, string> {
    const { acts, longExits, shortExits, size } = this.#sheet;
    const names: Record<SideName, string> = { long: "", short: "" };
    if (acts === "alerts") return names;
    const sides = (["long", "short"] as const).filter((side) => activeRules(code[side].entry).length > 0);
    if (sides.length === 0) return names;
    const sizeOption = size ? [sizeCode(size, this.#text.inputs)] : [];
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
    const writer = new ExitsCode(this.#text.inputs, (text) => this.#text.exitStudy(text), isShared ? "" : side);
    const options = [...size, ...writer.options(exits)];
    const flat = writer.flatMinutes(exits);
    if (options.length === 0) return { name: "", flat };
    const name = this.#text.names.take(isShared ? "exits" : `${side}Exits`);
    this.#text.gap();
    this.#text.add(`// Size and exits of ${isShared ? "every" : `a ${side}`} entry`);
    this.#text.add(`const ${name} = {`);
    for (const option of options) this.#text.add(`  ${option},`);
    this.#text.add("};");
    return { name, flat };
  }

  /** Minutes ahead of the close at which each side is flat. */
  readonly #flatMinutes = new Map<SideName, string>();

  #flat(): void {
    const sides = [...this.#flatMinutes];
    if (sides.length === 0) return;
    this.#text.use("on", "exit", "orders");
    this.#text.gap();
    this.#text.add("// Nothing is held into the close");
    this.#text.add("const minutesLeft = minutesToClose(bars);");
    const [[, first], second] = sides as [[SideName, string], [SideName, string] | undefined];
    const isAll = second?.[1] === first;
    for (const [side, minutes] of isAll ? sides.slice(0, 1) : sides) {
      this.#text.add(`on.beforeClose(${minutes}, () => {`);
      this.#text.add("  orders.cancelAll();");
      this.#text.add(isAll ? '  exit.all("flat");' : `  exit.${side}({ tag: "flat" });`);
      this.#text.add("});");
    }
  }

  entry(side: SideName, entry: Named, filters: Named | null, exits: Readonly<Record<SideName, string>>): void {
    const { entersOn, acts, order } = this.#sheet;
    const isBeginning = !entry.isMoment && entersOn === "beginning";
    const isMoment = entry.isMoment || isBeginning;
    const rule = isBeginning ? `becomes(${entry.code})` : entry.code;
    const condition = filters ? `${rule}.and(${filters.code})` : rule;
    this.#text.use(isMoment ? "when" : "during");
    const isPending = acts === "orders" && order.kind !== "market";
    if (isPending) this.#text.add(`let ${side}Order: Order | undefined;`);
    this.#text.add(`${isMoment ? "when" : "during"}(${condition}, () => {`);
    for (const line of acts === "alerts" ? this.#alert(side, "entry") : this.#order(side, exits[side])) this.#text.add(`  ${line}`);
    this.#text.add("});");
    if (isPending && this.#sheet.guards.whileOpen === "wait") {
      this.#text.use("on");
      this.#text.add(`on.opened(() => { ${side}Order?.cancel(); });`);
    }
  }

  #alert(side: SideName, what: "entry" | "exit"): string[] {
    this.#text.use("log");
    const window = what === "entry" ? this.#window(side) : [];
    return [...window, `log(${quoted(`${this.#sheet.title}: ${side} ${what}`)}, "alert");`];
  }

  #window(side: SideName): string[] {
    const window = side === "long" ? this.#sheet.longWindow : this.#sheet.shortWindow;
    if (!window) return [];
    const group = `Entry window, ${side}`;
    if (window.by === "clock") {
      this.#text.use("clock");
      const from = this.#text.inputs.time(`${side}From`, window.from, "From", group);
      return [`if (!clock.between(${from}, ${this.#text.inputs.time(`${side}To`, window.to, "To", group)})) return;`];
    }
    const role = { whole: true, min: 0, max: null, unit: "bars" };
    const from = this.#text.inputs.number(`${side}FromBar`, window.from, role, "From bar of the session", group);
    const to = this.#text.inputs.number(`${side}ToBar`, window.to, role, "To bar of the session", group);
    const name = this.#text.names.take(`${side}Bar`);
    this.#text.addHead(`const ${name} = barsSinceOpen(bars);`);
    return [`if (${name}.now < ${from} || ${name}.now > ${to}) return;`];
  }

  #order(side: SideName, exits: string): string[] {
    const { order, guards } = this.#sheet;
    const isPending = order.kind !== "market";
    const lines: string[] = [];
    this.#text.use("enter");
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
    this.#goodForInput ||= this.#text.inputs.number("goodFor", bars, role, "Order works for", "Order");
    return this.#goodForInput;
  }

  #guards(side: SideName, isPending: boolean): string[] {
    const { whileOpen, entriesPerSession, coolDownBars } = this.#sheet.guards;
    const lines: string[] = [];
    if (whileOpen !== "add") this.#text.use("position");
    if (whileOpen === "wait" && isPending) lines.push("if (!position.flat) return;");
    if (whileOpen === "wait" && !isPending) {
      this.#text.use("orders");
      lines.push("if (!position.flat || orders.working.length > 0) return;");
    }
    if (whileOpen === "reverse") lines.push(`if (position.${side}) return;`);
    if (entriesPerSession !== null) {
      this.#text.use("orders");
      lines.push(`if (entries + orders.working.length >= ${this.#mostEntries(entriesPerSession)}) return;`);
    }
    if (coolDownBars !== null) lines.push("if (coolDown > 0) return;");
    return lines;
  }

  #mostEntriesInput = "";
  #mostEntries(count: number): string {
    const role = { whole: true, min: 0, max: null, unit: "entries" };
    this.#mostEntriesInput ||= this.#text.inputs.number("entriesPerSession", count, role, "Entries per session", "Guards");
    return this.#mostEntriesInput;
  }

  #level: SheetValue<string> | null = null;
  #offset = "";

  /** The call up to its price: "long.stop(level.now + ...". */
  #pending(side: SideName, order: Exclude<RuleSheet["order"], { kind: "market" }>): string {
    if (!this.#level) {
      this.#level = mapValue(order.level, this.#text.mapFor({ base: "order", about: "order", group: "Order" }));
      if (order.offsetTicks !== 0) {
        const role = { whole: false, min: null, max: null, unit: "ticks" };
        this.#offset = this.#text.inputs.number("orderOffset", order.offsetTicks, role, "Away by", "Order");
      }
    }
    const level = side === "long" ? this.#level : mirrorValue(this.#level, turnedCode);
    const name = this.#text.names.take(`${side}Level`);
    this.#text.addHead(`const ${name} = ${valueCode(level, this.#text.barNames)};`);
    const call = { stop: "stop", limit: "limit", "price given": "at" }[order.kind];
    const isUp = (side === "long") === (order.kind !== "limit");
    const offset = this.#offset === "" ? "" : ` ${isUp ? "+" : "-"} ${this.#offset} * bars.instrument.tickSize`;
    return `${side}.${call}(${name}.now${offset}`;
  }

  exit(side: SideName, exit: Named): void {
    const { acts } = this.#sheet;
    this.#text.use(exit.isMoment ? "when" : "during");
    const act = acts === "alerts" ? this.#alert(side, "exit")[0]! : `exit.${side}({ tag: "rule" });`;
    if (acts === "orders") this.#text.use("exit");
    this.#text.add(`${exit.isMoment ? "when" : "during"}(${exit.code}, () => ${act.slice(0, -1)});`);
  }
}
