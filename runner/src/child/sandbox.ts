/**
 * Evaluates plans without ambient authority: a hardened compartment of ses that has no process, network, files, timers,
 * clock or unseeded randomness. Names of the language and of the standard library come in as parameters, because a free
 * global name costs a proxy look-up each time.
 */
import { DeclaredPlan, PlanContext, type PlanFailure, PlanTesterError, SHARED_CLASSES, VOCABULARY } from "@plan-tester/core";
import { type CompiledPlan, compilePlan, PLAN_FILE, type Reports } from "../compile.ts";
import { splitModules } from "../modules.ts";
import type { TracePlaces } from "../trace-marks.ts";

declare const lockdown: (options: Record<string, string>) => void;
declare const harden: <T>(value: T) => T;
declare const Compartment: new (options: {
  globals?: Record<string, unknown>;
  __options__: true;
}) => { evaluate(code: string): unknown; globalThis: Record<string, unknown> };

/** Standard names that plans may use. Those that could tell the time or draw randomness are tamed by lockdown. */
const STANDARD = [
  "Math",
  "JSON",
  "Number",
  "String",
  "Boolean",
  "Array",
  "Object",
  "Map",
  "Set",
  "WeakMap",
  "Symbol",
  "Date",
  "RegExp",
  "Error",
  "RangeError",
  "TypeError",
  "Int32Array",
  "Uint8Array",
  "isNaN",
  "isFinite",
  "parseInt",
  "parseFloat",
  "NaN",
  "Infinity",
  "undefined",
] as const;

let locked = false;

/**
 * Prototypes that typed arrays inherit from. V8 marks an object that Object.freeze froze as having read-only elements,
 * and then takes a slow way (70 ns) on every write to a typed array that inherits from it. Taking away extensibility and
 * each property's writability leaves the very same object without that mark.
 */
const OF_TYPED_ARRAYS: ReadonlySet<object> = new Set([
  Object.prototype,
  Object.getPrototypeOf(Float64Array.prototype),
  Float64Array.prototype,
  Int32Array.prototype,
  Uint8Array.prototype,
]);

function freezeByProperty(target: object): void {
  Object.preventExtensions(target);
  for (const key of Reflect.ownKeys(target)) {
    const isData = "value" in Reflect.getOwnPropertyDescriptor(target, key)!;
    Reflect.defineProperty(target, key, isData ? { configurable: false, writable: false } : { configurable: false });
  }
}

/** Loads ses with a freeze that spares those prototypes the mark; Object.freeze itself stays as it was. */
async function loadSes(): Promise<void> {
  const { freeze } = Object;
  const sparing = <T>(target: T): T => {
    if (!OF_TYPED_ARRAYS.has(target as object)) return freeze(target) as T;
    freezeByProperty(target as object);
    return target;
  };
  Object.freeze = sparing as typeof Object.freeze;
  try {
    await import("ses");
  } finally {
    Object.freeze = freeze;
  }
}

/** Freezes the shared objects of this process for good. Call once, before any plan. */
export async function lockDown(): Promise<void> {
  if (locked) return;
  locked = true;
  await loadSes();
  lockdown({ errorTaming: "unsafe", consoleTaming: "unsafe", overrideTaming: "severe", stackFiltering: "verbose", domainTaming: "unsafe" });
  // The host's own Error can change how stacks are taken, for every run to come. What plans catch leads to the tame one.
  Object.setPrototypeOf(PlanTesterError, new Compartment({ globals: {}, __options__: true }).globalThis.Error as object);
  harden(PlanTesterError);
  for (const shared of SHARED_CLASSES) harden(shared);
  harden(VOCABULARY);
  Error.stackTraceLimit = 30;
}

/** All that is left in a compartment's global object: the rest could make code that no guard counts, wait, or share memory. */
const GLOBALS: ReadonlySet<string> = new Set<string>([
  ...STANDARD,
  "globalThis",
  "BigInt",
  "EvalError",
  "Int16Array",
  "Int8Array",
  "Proxy",
  "ReferenceError",
  "Reflect",
  "SyntaxError",
  "URIError",
  "Uint16Array",
  "Uint32Array",
  "Uint8ClampedArray",
  "ArrayBuffer",
  "DataView",
  "WeakSet",
]);

function compartmentForPlan(): InstanceType<typeof Compartment> {
  const compartment = new Compartment({ globals: {}, __options__: true });
  const { globalThis: own } = compartment;
  for (const name of Reflect.ownKeys(own)) if (typeof name === "string" && !GLOBALS.has(name)) delete own[name];
  harden(own);
  return compartment;
}

/** Longest time between two signs of life of a plan, in milliseconds: a loop past it is taken for endless. */
const STEP_LIMIT_MS = Number(process.env.LOOP_MS ?? 5000);

/** Steps between two looks at the clock: few, for at the end of the stack each step costs a caught error. */
const STEPS_A_LOOK = 4096;

/** Counts loop steps of plan code and ends a loop that runs too long. */
class StepGuard {
  #stepsLeft = STEPS_A_LOOK;
  #deadline = Number.POSITIVE_INFINITY;
  #isTripped = false;
  /** What tells the plan to end. Whatever it does with that, it gets the same again at its next step. */
  #end: PlanTesterError | null = null;

  restart(): void {
    this.#stepsLeft = STEPS_A_LOOK;
    this.#isTripped = false;
    this.#end = null;
    this.#deadline = performance.now() + STEP_LIMIT_MS;
  }

  /** Time in which the plan waited for somebody else's work is not its own. */
  pardon(waitedMs: number): void {
    this.#deadline += waitedMs;
  }

  readonly step = (): void => {
    if (--this.#stepsLeft < 0) {
      // Where the stack has no room for this look it throws, and the next step looks again.
      if (performance.now() > this.#deadline) this.#isTripped = true;
      this.#stepsLeft = STEPS_A_LOOK;
    }
    if (!this.#isTripped) return;
    this.#end ??= harden(
      new PlanTesterError(
        "plan-error",
        `This loop ran for ${STEP_LIMIT_MS / 1000} seconds without an end. Check the condition that should end it.`,
      ),
    );
    throw this.#end;
  };
}

export const guard = new StepGuard();

/** The line that the next order comes from, noted by the plan's own code. */
let notedLine = 0;
const noteLine = (line: number): void => {
  notedLine = line;
};

/** How often each statement has run, by its number, while a pass counts them. */
let hits = new Float64Array(0);
const countHit = (statement: number): void => {
  hits[statement]!++;
};

/** Starts a count of so many statements. */
export function startCounts(statements: number): Float64Array {
  hits = new Float64Array(statements);
  return hits;
}

/** Hears named values and tests by the number of their place; the plan goes on with what it answers. */
export interface Listener {
  see(name: number, value: unknown): unknown;
  test(test: number, value: unknown): unknown;
}

let heardBy: Listener | null = null;
const see = (name: number, value: unknown): unknown => (heardBy ? heardBy.see(name, value) : value);
const test = (number: number, value: unknown): unknown => (heardBy ? heardBy.test(number, value) : value);

export function listenTo(listener: Listener | null): void {
  heardBy = listener;
}

type Factory = (...args: unknown[]) => void;

export interface LoadedPlan {
  /** A fresh instance of the module: nothing is shared with other runs of the same plan. */
  instantiate(): DeclaredPlan;
  /** What reports on itself; empty unless the plan is traced. */
  readonly places: TracePlaces;
  /** A name on a line that is none of the language, was declared nowhere, and so is not defined; null where there is none. */
  missingOn(line: number): string | null;
  /** Where in the source an error came from, as far as its stack tells. */
  locate(error: unknown): { line: number | null; column: number | null };
}

const KNOWN_NAMES: ReadonlySet<string> = new Set([...Object.keys(VOCABULARY), ...GLOBALS]);
/** What build() gets. */
const CONTEXT_NAMES: ReadonlySet<string> = new Set(
  Object.getOwnPropertyNames(PlanContext.prototype).filter((name) => name !== "constructor"),
);
const IS_MISSING = /of undefined|is not a function|is not defined|is not a constructor|is not iterable/;

/** Why a name has no value, where that is why a line failed. */
function missingWords(message: string, name: string | null): string {
  if (name === null || !IS_MISSING.test(message)) return message;
  return CONTEXT_NAMES.has(name)
    ? `"${name}" was not taken from build's argument. Write it among the names in build({ … }): build({ ${name}, … }).`
    : `"${name}" is not defined: it is no name of the plan language, and the plan declares none like it.`;
}

const kept = new Map<string, LoadedPlan>();
const KEEP = 16;

/**
 * Compiles and loads a linked plan; the last few are kept by their source.
 * @throws PlanTesterError bad-plan when it can't be read.
 */
export function loadPlan(source: string, reports: Reports = "none"): LoadedPlan {
  guard.restart();
  const key = `${reports} ${source}`;
  const known = kept.get(key);
  if (known) return known;
  const { plan: text, modules } = splitModules(source);
  if (text.trim() === "" && modules.size > 0)
    throw new PlanTesterError(
      "bad-plan",
      `This is a module: it exports studies and functions for other plans, and runs with those that import from "${[...modules.keys()][0]}".`,
      {},
    );
  const compiled = compilePlan(text, { reports });
  const compartment = compartmentForPlan();
  const main = evaluate(compartment, compiled, PLAN_FILE);
  const factories = new Map(
    [...modules].map(([name, module]) => [
      name,
      evaluate(
        compartment,
        inModule(name, () => compilePlan(module, { role: "module" })),
        `${name}.module.ts`,
      ),
    ]),
  );
  const values = [
    ...Object.values(VOCABULARY),
    ...STANDARD.map((name) => (name === "undefined" ? undefined : compartment.globalThis[name])),
    guard.step,
    noteLine,
    countHit,
    see,
    test,
  ];
  const plan: LoadedPlan = {
    instantiate() {
      const exported = instantiate(main, factories, values);
      const declared = exported.default;
      if (!(declared instanceof DeclaredPlan)) throw new PlanTesterError("bad-plan", nothingToRun(Object.keys(exported)), {});
      return declared;
    },
    places: compiled.places,
    missingOn: (line) => compiled.freeNames.get(line)?.find((name) => !KNOWN_NAMES.has(name)) ?? null,
    locate: (error) => locate(error, compiled, HEAD.length),
  };
  if (kept.size >= KEEP) kept.delete(kept.keys().next().value!);
  kept.set(key, plan);
  return plan;
}

/** The text stands in a function of its own, so that its `arguments` hold none of what is passed in by name. */
const HEAD = `(function (exports, require, ${[...Object.keys(VOCABULARY), ...STANDARD, "__step", "__at", "__hit", "__see", "__test"].join(", ")}) {(function () {`;

function evaluate(compartment: InstanceType<typeof Compartment>, { code }: CompiledPlan, file: string): Factory {
  try {
    return compartment.evaluate(`${HEAD}${code}\n})()})\n//# sourceURL=${file}`) as Factory;
  } catch (error) {
    throw new PlanTesterError("bad-plan", error instanceof Error ? error.message : String(error), {});
  }
}

/** An error in a module's text says in which. */
function inModule<T>(name: string, make: () => T): T {
  try {
    return make();
  } catch (error) {
    const text = error instanceof Error ? error.message : String(error);
    throw new PlanTesterError("bad-plan", `In module "${name}": ${text}`, {});
  }
}

/** Why a text can't be run: it is a module without its header, or nothing yet. */
function nothingToRun(names: readonly string[]): string {
  const exported = names.filter((name) => name !== "default");
  if (exported.length === 0)
    return 'The plan exports nothing to run. Begin with: export default plan({ title: "…", build({ bars }) { … } });';
  return `This is a module: it exports ${exported.slice(0, 5).join(", ")}${exported.length > 5 ? " and more" : ""} for other plans. Name it in its first line, //! module "its-name", and they import from "its-name". A plan to run has: export default plan({ title: "…", build({ bars }) { … } });`;
}

/** Runs the plan's text, and the texts of the modules that it asks for, once each. */
function instantiate(main: Factory, factories: ReadonlyMap<string, Factory>, values: readonly unknown[]): Record<string, unknown> {
  const loaded = new Map<string, Record<string, unknown>>();
  const loading: string[] = [];
  const require = (given: unknown): Record<string, unknown> => {
    const name = String(given);
    const known = loaded.get(name);
    if (known) return known;
    const factory = factories.get(name);
    if (!factory)
      throw new PlanTesterError(
        "bad-plan",
        `"${name}" can't be loaded: it is no module of this workspace. The language itself needs no import.`,
        {},
      );
    if (loading.includes(name))
      throw new PlanTesterError("bad-plan", `Modules import one another in a circle: ${[...loading, name].join(" → ")}.`, {});
    loading.push(name);
    const exports: Record<string, unknown> = {};
    factory(exports, require, ...values);
    loading.pop();
    loaded.set(name, exports);
    return exports;
  };
  const exports: Record<string, unknown> = {};
  main(exports, require, ...values);
  return exports;
}

const FRAME = new RegExp(`${PLAN_FILE.replace(".", "\\.")}:(\\d+):(\\d+)`);

function locate(error: unknown, compiled: CompiledPlan, head: number): { line: number | null; column: number | null } {
  const stated = statedPlace(error);
  if (stated) return stated;
  let stack = "";
  try {
    stack = String((error as { stack?: unknown } | null)?.stack ?? "");
  } catch {
    return { line: null, column: null };
  }
  const match = FRAME.exec(stack);
  if (!match) return { line: null, column: null };
  const line = Number(match[1]);
  const column = Number(match[2]);
  // Case: a stack that the plan has written itself.
  if (line > compiled.lines) return { line: null, column: null };
  return { line, column: compiled.columnOf(line, line === 1 ? column - head : column) };
}

/** Line of the plan's source that sends an order now: as noted, else from the stack (a call by another name), else 0. */
export function currentLine(): number {
  if (notedLine > 0) {
    const line = notedLine;
    notedLine = 0;
    return line;
  }
  const match = FRAME.exec(new Error().stack ?? "");
  return match ? Number(match[1]) : 0;
}

/** The place that an error of ours names itself, such as a syntax error. */
function statedPlace(error: unknown): { line: number; column: number } | null {
  if (!(error instanceof PlanTesterError) || typeof error.details.line !== "number") return null;
  return { line: error.details.line, column: Number(error.details.column) };
}

/** A thrown thing as a failure that can be shown: a plan may throw anything, also objects that lie about themselves. */
export function failureOf(error: unknown, plan: LoadedPlan | null, barIndex: number | null, barTimeMs: number | null): PlanFailure {
  const place = plan?.locate(error) ?? statedPlace(error) ?? { line: null, column: null };
  let message: string;
  try {
    message =
      error instanceof RangeError && /call stack/i.test(error.message)
        ? "A function calls itself without an end."
        : String((error as { message?: unknown })?.message ?? error);
  } catch {
    message = "The plan threw something that can't be read.";
  }
  if (place.line !== null) message = missingWords(message, plan?.missingOn(place.line) ?? null);
  return { message: message.slice(0, 2000), ...place, barIndex, barTimeMs };
}
