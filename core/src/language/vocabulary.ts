/**
 * The names a plan may use anywhere: declaration, inputs, studies, conditions, distances and sizes. They hold no state;
 * what belongs to one run reaches a plan through the arguments of its build function.
 */

import type { Distance, DistanceUnit } from "../engine/orders.ts";
import type { Size } from "../engine/sizing.ts";
import { PlanTesterError } from "../errors.ts";
import { Random } from "../random.ts";
import { STUDIES } from "../studies/catalogue.ts";
import type { StudyDefinition } from "../studies/definition.ts";
import { isOnWeekday, opensBetween } from "./calendar-states.ts";
import { ClockView } from "./clock.ts";
import { COLUMN_WORDS } from "./column-words.ts";
import {
  asColumn,
  Column,
  Condition,
  Crossing,
  crosses,
  crossesAbove,
  crossesBelow,
  describe,
  isAbove,
  isAtOrAbove,
  isAtOrBelow,
  isBelow,
  meetingScope,
  multiplesOf,
  scopeOf,
} from "./columns.ts";
import { PlanContext } from "./context.ts";
import { declareStudy } from "./declare-study.ts";
import { readColumn, readCondition } from "./expression.ts";
import { choice, DeclaredInput, decimal, instrument, text, time, timeframe, whole, yesNo } from "./inputs.ts";
import { Market, PlanBars, scopeOfBars } from "./market.ts";
import { isBetween } from "./memory.ts";
import { MirroredSide } from "./mirrored.ts";
import { AccountView, OrderHandle, Orders } from "./order-handle.ts";
import { Position } from "./position.ts";
import type { Scope } from "./scope.ts";
import { stepwise } from "./stepwise.ts";

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
    let scope: Scope | null = null;
    definition.inputs.forEach((input, i) => {
      const given = args[i];
      if (input.kind === "number") numbers.push((given as number | undefined) ?? input.default);
      else if (input.kind === "bars") {
        scope = scopeOfBars(given) ?? null;
        if (!scope) throw new PlanTesterError("plan-error", `${where} takes bars first; it got ${describe(given)}.`);
      } else {
        const column = asColumn(given, where);
        columns.push(column);
        scope = scope ? meetingScope(scope, scopeOf(column)) : scopeOf(column);
      }
    });
    if (args.length > definition.inputs.length)
      throw new PlanTesterError("plan-error", `${where} takes ${definition.inputs.length} arguments; it got ${args.length}.`);
    const outputs = declareStudy(definition, scope!, columns, numbers);
    if (definition.outputs.length === 1) return outputs[0];
    const record: Record<string, Column> = {};
    definition.outputs.forEach((output, i) => {
      record[output] = outputs[i]!;
    });
    return record;
  };
}

const distance =
  (unit: DistanceUnit) =>
  (value: number): Distance =>
    Object.freeze({ unit, value });

/** A plan asks for the same ones at each of its signals; more factors than this of one column are computed ones. */
const MOST_FACTORS = 16;

/** A multiple of what a study shows when the order is sent, in price units: it may be written once, in build(). */
function multiple(study: unknown, factor = 1): Distance {
  const column = asColumn(study, "multiple()");
  const own = multiplesOf(column);
  const known = own.get(factor);
  if (known) return known;
  const made = Object.freeze({
    unit: "points" as const,
    isLive: true,
    get value() {
      return column.now * factor;
    },
  });
  if (own.size < MOST_FACTORS) own.set(factor, made);
  return made;
}

const size =
  (by: "units" | "equity percent" | "risk percent" | "risk money") =>
  (value: number): Size =>
    Object.freeze({ by, value });

const unitsPerBalance = (value: number, step: number): Size => Object.freeze({ by: "balance step", value, step });

/** Sized so that a move as large as the study shows when the order is sent makes or loses a percentage of equity. */
function volatilityPercent(value: number, study: unknown): Size {
  const column = asColumn(study, "volatilityPercent()");
  return Object.freeze({
    by: "volatility percent" as const,
    value,
    get move() {
      return column.now;
    },
  });
}

/** Every global name of the plan language and what it stands for. */
export const VOCABULARY: Readonly<Record<string, unknown>> = Object.freeze({
  plan,
  whole,
  decimal,
  yesNo,
  choice,
  time,
  text,
  instrument,
  timeframe,
  ...Object.fromEntries(STUDIES.map((definition) => [definition.name, studyFunction(definition)])),
  crossesAbove,
  crossesBelow,
  crosses,
  isAbove,
  isBelow,
  isAtOrAbove,
  isAtOrBelow,
  isBetween,
  opensBetween,
  isOnWeekday,
  ...COLUMN_WORDS,
  stepwise,
  readColumn: (given: unknown, bars: PlanBars) => readColumn(String(given), bars),
  readCondition: (given: unknown, bars: PlanBars) => readCondition(String(given), bars),
  ticks: distance("ticks"),
  points: distance("points"),
  pips: distance("pips"),
  percent: distance("percent"),
  money: distance("money"),
  moneyPerUnit: distance("money per unit"),
  price: distance("price"),
  R: distance("R"),
  multiple,
  units: size("units"),
  equityPercent: size("equity percent"),
  riskPercent: size("risk percent"),
  riskMoney: size("risk money"),
  unitsPerBalance,
  volatilityPercent,
});

/** Classes whose prototypes must be frozen before a plan that is not trusted runs beside others. */
export const SHARED_CLASSES: readonly (abstract new (...args: never[]) => unknown)[] = [
  AccountView,
  ClockView,
  Column,
  Condition,
  Crossing,
  DeclaredInput,
  DeclaredPlan,
  Market,
  MirroredSide,
  OrderHandle,
  Orders,
  PlanBars,
  PlanContext,
  Position,
  Random,
];
