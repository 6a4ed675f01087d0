/**
 * The names a plan may use anywhere: declaration, inputs, studies, conditions, distances and sizes. They hold no state;
 * what belongs to one run reaches a plan through the arguments of its build function.
 */

import type { Distance } from "../engine/orders.ts";
import type { Size } from "../engine/sizing.ts";
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { STUDIES } from "../studies/catalogue.ts";
import { checkNumbers, type StudyDefinition } from "../studies/definition.ts";
import {
  asColumn,
  becomes,
  Column,
  Condition,
  crossesAbove,
  crossesBelow,
  deriveColumn,
  describe,
  entryOf,
  isAbove,
  isBelow,
  type Scope,
  scopeOf,
} from "./columns.ts";
import { choice, DeclaredInput, decimal, time, whole, yesNo } from "./inputs.ts";
import { OrderHandle } from "./trading.ts";

/** The bars of a run as a plan sees them. */
export interface PlanBars {
  readonly open: Column;
  readonly high: Column;
  readonly low: Column;
  readonly close: Column;
  readonly volume: Column;
  readonly instrument: Readonly<{ symbol: string; name: string; tickSize: number; pointValue: number; decimals: number }>;
  readonly timeframe: string;
}

const scopes = new WeakMap<object, Scope>();

export function registerBars(bars: PlanBars, scope: Scope): void {
  scopes.set(bars, scope);
}

/** A declared plan; only `plan()` makes one. */
export class DeclaredPlan {
  readonly title: string;
  readonly inputs: Readonly<Record<string, unknown>>;
  readonly build: (context: unknown) => unknown;

  constructor(title: string, inputs: Readonly<Record<string, unknown>>, build: (context: unknown) => unknown) {
    this.title = title;
    this.inputs = inputs;
    this.build = build;
  }
}

function plan(declaration: { title?: unknown; inputs?: unknown; build?: unknown }): DeclaredPlan {
  const { title, inputs, build } = declaration ?? {};
  if (typeof title !== "string" || title.trim() === "")
    throw new PlanTesterError("bad-plan", 'plan() needs a title: plan({ title: "…", inputs: { … }, build({ bars, … }) { … } }).');
  if (typeof build !== "function")
    throw new PlanTesterError("bad-plan", "plan() needs a build function that declares studies and handlers.");
  if (inputs !== undefined && (typeof inputs !== "object" || inputs === null))
    throw new PlanTesterError("bad-plan", `inputs must be an object of declared inputs; it is ${describe(inputs)}.`);
  return new DeclaredPlan(
    title.slice(0, 200),
    { ...(inputs as Record<string, unknown> | undefined) },
    build as (context: unknown) => unknown,
  );
}

/** Binds a study's definition to plan arguments: columns and numbers in declared order; several outputs come as a record. */
function studyFunction(definition: StudyDefinition): (...args: unknown[]) => unknown {
  const where = `${definition.name}()`;
  return (...args) => {
    const columns: Column[] = [];
    const numbers: number[] = [];
    let scope: Scope | undefined;
    definition.inputs.forEach((input, i) => {
      const given = args[i];
      if (input.kind === "bars") {
        scope = scopes.get(given as object);
        if (!scope) throw new PlanTesterError("plan-error", `${where} takes bars first; it got ${describe(given)}.`);
      } else if (input.kind === "column") {
        const column = asColumn(given, where);
        columns.push(column);
        scope = scopeOf(column);
      } else numbers.push((given as number | undefined) ?? input.default);
    });
    if (args.length > definition.inputs.length)
      throw new PlanTesterError("plan-error", `${where} takes ${definition.inputs.length} arguments; it got ${args.length}.`);
    checkNumbers(definition, numbers);
    const entries = columns.map(entryOf);
    const key = `${definition.name}(${[...entries.map((entry) => entry.key), ...numbers].join(", ")})`;
    const outputs = new WeakMap<BarSeries, ReturnType<StudyDefinition["compute"]>>();
    const compute = (bars: BarSeries): ReturnType<StudyDefinition["compute"]> => {
      const known = outputs.get(bars);
      if (known) return known;
      const made = definition.compute({ bars, columns: entries, numbers });
      outputs.set(bars, made);
      return made;
    };
    if (definition.outputs.length === 1) return deriveColumn(scope!, key, (bars) => compute(bars)[0]!);
    const record: Record<string, Column> = {};
    definition.outputs.forEach((output, i) => {
      record[output] = deriveColumn(scope!, `${key}.${output}`, (bars) => compute(bars)[i]!);
    });
    return Object.freeze(record);
  };
}

const distance =
  (unit: Distance["unit"]) =>
  (value: number): Distance =>
    Object.freeze({ unit, value });

const size =
  (by: Size["by"]) =>
  (value: number): Size =>
    Object.freeze({ by, value });

/** Every global name of the plan language and what it stands for. */
export const VOCABULARY: Readonly<Record<string, unknown>> = Object.freeze({
  plan,
  whole,
  decimal,
  yesNo,
  choice,
  time,
  ...Object.fromEntries(STUDIES.map((definition) => [definition.name, studyFunction(definition)])),
  crossesAbove,
  crossesBelow,
  isAbove,
  isBelow,
  becomes,
  ticks: distance("ticks"),
  percent: distance("percent"),
  money: distance("money"),
  price: distance("price"),
  units: size("units"),
  equityPercent: size("equity percent"),
  riskPercent: size("risk percent"),
});

/** Classes whose prototypes must be frozen before a plan that is not trusted runs beside others. */
export const SHARED_CLASSES: readonly (abstract new (...args: never[]) => unknown)[] = [
  Column,
  Condition,
  DeclaredInput,
  DeclaredPlan,
  OrderHandle,
];
