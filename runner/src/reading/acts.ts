/** What a plan's handlers do, each act with its line and with what leads to it. */
import type { ProgramAct } from "@plan-tester/contract";
import { amountText, DISTANCE_CALLS, type DistanceUnit } from "@plan-tester/core";
import { argumentsOf, lineOf, type Part, propertyOf, sideOf } from "../syntax.ts";
import type { Names } from "./names.ts";
import type { Speaker } from "./say.ts";

const EVENTS: Readonly<Record<string, string>> = {
  barClose: "a bar closes",
  onBarClose: "a bar closes",
  start: "it starts",
  end: "it ends",
  sessionOpen: "a session opens",
  sessionClose: "a session closes",
  price: "price moves inside the bar",
  accepted: "an order is accepted",
  filled: "an order fills",
  cancelled: "an order is cancelled",
  refused: "an order is refused",
  expired: "an order expires",
  opened: "a position is opened",
  changed: "a position changes",
  closed: "a trade is closed",
};

const UNITS: ReadonlyMap<string, DistanceUnit> = new Map(
  Object.entries(DISTANCE_CALLS).map(([unit, call]) => [call, unit as DistanceUnit] as const),
);
const ORDER_KINDS: Readonly<Record<string, string>> = {
  stop: "by a stop order",
  limit: "by a limit order",
  stopLimit: "by a stop-limit order",
  at: "by a stop or limit order",
};
/** As deep as functions are looked into that handlers call. */
const DEEPEST = 4;
/** More than anybody reads, and an end to functions that call one another again and again. */
const MOST_ACTS = 200;
const MOST_CALLS = 50_000;
const MOST_CALLS_OF_ONE = 2_000;

export class ActReader {
  readonly acts: ProgramAct[] = [];
  readonly #told = new Set<string>();
  readonly #speaker: Speaker;
  readonly #names: Names;
  #depth = 0;
  #calls = 0;
  /** Those of the handler that is read now: one that calls on and on leaves the others theirs. */
  #callsHere = 0;

  constructor(speaker: Speaker, names: Names) {
    this.#speaker = speaker;
    this.#names = names;
  }

  /** Reads what `build` registers. */
  read(build: Part): void {
    this.#block(build, []);
  }

  #add(node: Part, kind: ProgramAct["kind"], what: string, conditions: readonly string[]): void {
    const act: ProgramAct = { line: lineOf(node), kind, what, when: [...new Set(conditions)].join(", and ") };
    const key = JSON.stringify(act);
    if (this.acts.length >= MOST_ACTS || this.#told.has(key)) return;
    this.#told.add(key);
    this.acts.push(act);
  }

  /** A function's body, a block, or one statement or expression. */
  #block(node: Part, conditions: readonly string[]): void {
    const body = node.body ?? node;
    if (Array.isArray(body)) this.#statements(body as readonly Part[], conditions);
    else if ((body as Part).type === "BlockStatement") this.#statements((body as Part).body as readonly Part[], conditions);
    else this.#statement(body as Part, conditions);
  }

  #statements(statements: readonly Part[], before: readonly string[]): void {
    let conditions = before;
    for (const statement of statements) {
      this.#statement(statement, conditions);
      // Case: "if (...) return;": what follows is done only where that does not hold.
      if (statement.type === "IfStatement" && !statement.alternate && endsIt(statement.consequent!))
        conditions = [...conditions, this.#speaker.not(statement.test!)];
    }
  }

  #statement(node: Part, conditions: readonly string[]): void {
    switch (node.type) {
      case "IfStatement": {
        this.#block(node.consequent!, [...conditions, this.#speaker.say(node.test!)]);
        if (node.alternate) this.#block(node.alternate, [...conditions, this.#speaker.not(node.test!)]);
        return;
      }
      case "BlockStatement":
        return this.#statements(node.body as readonly Part[], conditions);
      case "ExpressionStatement":
        return this.#expression(node.expression as Part, conditions);
      case "ReturnStatement":
        return node.argument ? this.#expression(node.argument, conditions) : undefined;
      case "VariableDeclaration":
        for (const { init } of node.declarations ?? []) if (init && !isFunction(init)) this.#expression(init, conditions);
        return;
      case "ForOfStatement":
      case "ForStatement":
      case "WhileStatement":
        return this.#block(
          node.body as Part,
          node.type === "ForOfStatement" ? [...conditions, `for each of ${this.#speaker.quote(node.right!)}`] : conditions,
        );
      default:
        if (/Expression$/.test(node.type)) this.#expression(node, conditions);
    }
  }

  #expression(node: Part, conditions: readonly string[]): void {
    switch (node.type) {
      case "AssignmentExpression":
        return this.#expression(node.right!, conditions);
      case "UnaryExpression":
        return this.#expression(node.argument!, conditions);
      case "LogicalExpression":
        return this.#expression(node.right!, [
          ...conditions,
          node.operator === "&&" ? this.#speaker.say(node.left!) : this.#speaker.not(node.left!),
        ]);
      case "ConditionalExpression":
        this.#expression(node.consequent!, [...conditions, this.#speaker.say(node.test!)]);
        return this.#expression(node.alternate!, [...conditions, this.#speaker.not(node.test!)]);
      case "CallExpression":
        return this.#call(node, conditions);
    }
  }

  #call(node: Part, conditions: readonly string[]): void {
    if (++this.#calls > MOST_CALLS || this.#register(node, conditions) || ++this.#callsHere > MOST_CALLS_OF_ONE) return;
    const given = argumentsOf(node);
    const target = sideOf(node);
    if (target?.verb === "enter") return this.#enter(node, target.side, given, conditions);
    if (target?.verb === "exit") return this.#exit(node, target.side, given, conditions);
    const [owner, name] = [node.callee?.object?.name ?? node.callee?.object?.property?.name, node.callee?.property?.name ?? ""];
    if (owner === "exit" && name === "all") return this.#add(node, "exit", "Closes everything at market", conditions);
    if (owner === "position") return this.#position(node, name, given, conditions);
    if (owner === "orders" && name === "cancelAll") return this.#add(node, "change", "Cancels its orders", conditions);
    const called = node.callee?.name ?? "";
    if (called === "log" && given[1]?.value === "alert")
      return this.#add(node, "alert", `Sends the alert ${this.#speaker.quote(given[0]!)}`, conditions);
    // A handle's own functions, such as an order's.
    if (node.callee?.type === "MemberExpression" && ["cancel", "moveTo", "moveLimitTo", "resize"].includes(name) && owner)
      return this.#add(node, "change", ORDER_ACTS[name]!(given[0] ? this.#speaker.say(given[0]) : ""), conditions);
    const each = name === "forEach" ? given.find(isFunction) : undefined;
    if (each) return this.#block(each, [...conditions, `for each of ${this.#speaker.quote(node.callee!.object!)}`]);
    const own = this.#names.functions.get(called);
    if (!own || this.#depth >= DEEPEST) return;
    this.#depth++;
    this.#block(own, conditions);
    this.#depth--;
  }

  /** `when(...)`, `on.barClose(...)` and the like. */
  #register(node: Part, conditions: readonly string[]): boolean {
    const given = argumentsOf(node);
    const [callee, name] = [node.callee!, node.callee?.name ?? node.callee?.property?.name ?? ""];
    const handler = this.#handlerIn(given);
    if (!handler) return false;
    const [first, second] = given;
    const say = (part: Part | undefined): string => (part ? this.#speaker.say(part) : "");
    const lead =
      callee.type === "Identifier"
        ? { when: say(first), during: say(first) && `${say(first)} (on every bar)` }[name]
        : name === "onBarClose" || callee.object?.name === "on"
          ? ({
              clock: `it is ${say(first)}`,
              afterOpen: `a session has been open for ${say(first)} minutes`,
              beforeClose: `${say(first)} minutes are left of a session`,
              weekly: `it is ${say(first)}, ${say(second)}`,
            }[name] ?? EVENTS[name])
          : undefined;
    if (lead === undefined) return false;
    this.#callsHere = 0;
    this.#block(handler, [...conditions, lead]);
    return true;
  }

  #handlerIn(given: readonly Part[]): Part | null {
    for (const part of given) {
      if (isFunction(part)) return part;
      const known = part.type === "Identifier" ? this.#names.functions.get(part.name!) : undefined;
      if (known) return known;
    }
    return null;
  }

  #enter(node: Part, side: string, given: readonly Part[], conditions: readonly string[]): void {
    const kind = ORDER_KINDS[node.callee?.property?.name ?? ""];
    const price = kind && given[0] ? ` at ${this.#speaker.say(given[0])}` : "";
    const options = this.#optionsIn(kind ? given.at(-1) : given[0]);
    const onlyIf = options.get("onlyIf");
    const when = onlyIf ? [...conditions, this.#speaker.say(onlyIf)] : conditions;
    this.#add(node, "entry", `Enters ${side} ${kind ?? "at market"}${price}${this.#optionWords(options)}`, when);
  }

  #exit(node: Part, side: string, given: readonly Part[], conditions: readonly string[]): void {
    const kind = ORDER_KINDS[node.callee?.property?.name ?? ""];
    const price = kind && given[0] ? ` at ${this.#speaker.say(given[0])}` : "";
    const options = this.#options(kind ? given.at(-1) : given[0]);
    this.#add(node, "exit", `Closes ${side}s ${kind ?? "at market"}${price}${options}`, conditions);
  }

  #position(node: Part, name: string, [first]: readonly Part[], conditions: readonly string[]): void {
    const said = first ? this.#speaker.say(first) : "";
    if (name === "close") return this.#add(node, "exit", "Closes the position at market", conditions);
    if (name === "reduce") return this.#add(node, "exit", `Closes ${said} units at market`, conditions);
    if (name === "goTo")
      return this.#add(node, "entry", `Orders what is missing to a position of ${first ? this.#size(first) : ""}`, conditions);
    if (name === "tightenStop") return this.#add(node, "change", `Tightens the stop to ${said}`, conditions);
    if (name === "setStop")
      return this.#add(node, "change", said === "null" ? "Takes the stop away" : `Moves the stop to ${said}`, conditions);
    if (name === "setTarget")
      return this.#add(node, "change", said === "null" ? "Takes the target away" : `Moves the target to ${said}`, conditions);
  }

  /** Options of an order in words, spread objects taken in. */
  #options(node: Part | undefined): string {
    return this.#optionWords(this.#optionsIn(node));
  }

  #optionsIn(node: Part | undefined): ReadonlyMap<string, Part> {
    const options = new Map<string, Part>();
    this.#collect(node, options);
    return options;
  }

  #optionWords(options: ReadonlyMap<string, Part>): string {
    const words = [...options].flatMap(([name, value]) => this.#option(name, value) ?? []);
    return words.length > 0 ? `, ${words.join(", ")}` : "";
  }

  #collect(node: Part | undefined, into: Map<string, Part>): void {
    const object = node && this.#speaker.resolve(node);
    for (const property of object?.properties ?? []) {
      if (property.type === "SpreadElement") this.#collect(property.argument ?? undefined, into);
      else if (property.key?.name) into.set(property.key.name, property.value as Part);
    }
  }

  #option(name: string, value: Part): string | null {
    switch (name) {
      case "size":
        return this.#size(value);
      case "stopLoss":
        return `stop loss ${this.#distance(value)}`;
      case "target":
        return `target ${this.#distance(value)}`;
      case "trail":
        return `trail ${this.#distance(propertyOf(value, "distance") ?? value)}`;
      case "breakEven":
        return `break-even after ${this.#distance(propertyOf(value, "after") ?? value)}`;
      case "locks":
        return "a ladder of locks";
      case "timeLimit":
        return `closed after ${value.properties?.map((part) => `${this.#speaker.say(part.value as Part)} ${part.key?.name}`).join(" ") ?? this.#speaker.quote(value)}`;
      case "goodFor":
        return `good for ${propertyOf(value, "until") ? `until ${this.#speaker.say(propertyOf(value, "until")!)}` : value.value === "session" ? "the session" : `${this.#speaker.say(value)} bars`}`;
      case "reverse":
        return value.value === true ? "closing the other side first" : null;
      case "part":
        return `${this.#speaker.say(value)} of what is open`;
      case "entryTag":
        return `only what was entered as ${this.#speaker.say(value)}`;
      case "at":
        return "at the session's close";
      default:
        return null;
    }
  }

  #distance(node: Part): string {
    const part = this.#speaker.resolve(node);
    const [name, [first, second]] = [part.callee?.name ?? "", argumentsOf(part)];
    if (name === "multiple" && first) return `${second ? this.#speaker.say(second) : 1} times ${this.#speaker.say(first)}`;
    if (name === "price" && first) return `at ${this.#speaker.say(first)}`;
    const unit = UNITS.get(name);
    return unit && first ? amountText(unit, this.#speaker.say(first)) : this.#speaker.quote(part);
  }

  #size(node: Part): string {
    const part = this.#speaker.resolve(node);
    const [name, [first, second]] = [part.callee?.name ?? "", argumentsOf(part)];
    const said = first ? this.#speaker.say(first) : "";
    const sizes: Readonly<Record<string, string>> = {
      units: said === "1" ? "1 unit" : `${said} units`,
      equityPercent: `${said} % of equity`,
      riskPercent: `risking ${said} % of equity`,
      riskMoney: `risking ${said} of money`,
      unitsPerBalance: `${said} units for every ${second ? this.#speaker.say(second) : ""} of balance`,
      volatilityPercent: `sized so that a move of ${second ? this.#speaker.say(second) : ""} is ${said} % of equity`,
    };
    return sizes[name] ?? `size ${this.#speaker.quote(part)}`;
  }
}

const ORDER_ACTS: Readonly<Record<string, (given: string) => string>> = {
  cancel: () => "Cancels an order",
  moveTo: (price) => `Moves an order to ${price}`,
  moveLimitTo: (price) => `Moves an order's limit to ${price}`,
  resize: (units) => `Changes an order to ${units} units`,
};

const isFunction = ({ type }: Part): boolean =>
  type === "ArrowFunctionExpression" || type === "FunctionExpression" || type === "FunctionDeclaration";

/** Whether a statement leaves the handler. */
function endsIt(node: Part): boolean {
  if (node.type === "ReturnStatement" || node.type === "ContinueStatement") return true;
  const last = node.type === "BlockStatement" ? (node.body as readonly Part[]).at(-1) : undefined;
  return last !== undefined && endsIt(last);
}
