/** Inputs of a plan: the declaration that makes the form, the bounds of a sweep and the checks of a run. */
import { PlanTesterError } from "../errors.ts";
import { minutesOfDay } from "../market/calendar.ts";
import { parseTimeframe } from "../market/timeframe.ts";

export type InputValue = number | boolean | string;
export type InputValues = Readonly<Record<string, InputValue>>;

/** What a plan may say of an input besides its default. */
export interface InputOptions {
  readonly label?: string;
  readonly min?: number;
  readonly max?: number;
  readonly step?: number;
  readonly unit?: string;
  readonly group?: string;
  readonly help?: string;
}

export const INPUT_KINDS = ["whole", "decimal", "yes-no", "choice", "time", "text", "instrument", "timeframe"] as const;
export type InputKind = (typeof INPUT_KINDS)[number];

/** A declared input as plain data. */
export interface InputSpec {
  readonly name: string;
  readonly kind: InputKind;
  readonly default: InputValue;
  readonly label: string;
  readonly min: number | null;
  readonly max: number | null;
  readonly step: number | null;
  readonly unit: string;
  readonly group: string;
  readonly help: string;
  readonly choices: readonly string[];
}

/** What `whole(…)` and its kin return inside a plan; its name comes from the key it stands under. */
export class DeclaredInput {
  readonly kind: InputKind;
  readonly default: InputValue;
  readonly choices: readonly string[];
  readonly options: InputOptions;

  constructor(kind: InputKind, defaultValue: InputValue, options: InputOptions = {}, choices: readonly string[] = []) {
    this.kind = kind;
    this.default = defaultValue;
    this.options = { ...options };
    this.choices = [...choices];
  }
}

export const whole = (value: number, options?: InputOptions): DeclaredInput => new DeclaredInput("whole", value, options);
export const decimal = (value: number, options?: InputOptions): DeclaredInput => new DeclaredInput("decimal", value, options);
export const yesNo = (value: boolean, options?: InputOptions): DeclaredInput => new DeclaredInput("yes-no", value, options);
export const time = (value: string, options?: InputOptions): DeclaredInput => new DeclaredInput("time", value, options);
export const text = (value: string, options?: InputOptions): DeclaredInput => new DeclaredInput("text", value, options);
/** Symbol of an instrument that the run brings bars of, beside its own. */
export const instrument = (value: string, options?: InputOptions): DeclaredInput => new DeclaredInput("instrument", value, options);
export const timeframe = (value: string, options?: InputOptions): DeclaredInput => new DeclaredInput("timeframe", value, options);
export const choice = (value: string, choices: readonly string[], options?: InputOptions): DeclaredInput =>
  new DeclaredInput("choice", value, options, choices);

function spoken(name: string): string {
  const spaced = name.replace(/([a-z0-9])([A-Z])/g, "$1 $2").toLowerCase();
  return spaced.charAt(0).toUpperCase() + spaced.slice(1);
}

const numberOrNull = (value: unknown): number | null => (typeof value === "number" && Number.isFinite(value) ? value : null);
const words = (value: unknown): string => (typeof value === "string" ? value : "");

/** Turns the declared inputs of a plan into plain data, each default checked against its own bounds. */
export function specsOf(declared: Readonly<Record<string, unknown>>): InputSpec[] {
  return Object.entries(declared).map(([name, input]) => {
    if (!(input instanceof DeclaredInput))
      throw new PlanTesterError(
        "bad-plan",
        `Input "${name}" is not declared with whole(), decimal(), yesNo(), choice(), time(), text(), instrument() or timeframe().`,
        {
          input: name,
        },
      );
    const { options } = input;
    const spec: InputSpec = {
      name,
      kind: input.kind,
      default: input.default,
      label: words(options.label) || spoken(name),
      min: numberOrNull(options.min),
      max: numberOrNull(options.max),
      step: numberOrNull(options.step) ?? (input.kind === "whole" ? 1 : null),
      unit: words(options.unit),
      group: words(options.group),
      help: words(options.help),
      choices: input.choices.map(String),
    };
    const problem = inputProblem(spec, input.default);
    if (problem) throw new PlanTesterError("bad-plan", `The default of input "${name}" does not fit: ${problem}`, { input: name });
    return spec;
  });
}

/** What is wrong with a value for an input, or null. */
export function inputProblem(spec: InputSpec, value: InputValue): string | null {
  const got = `${spec.label} is ${JSON.stringify(value)}`;
  switch (spec.kind) {
    case "whole":
    case "decimal":
      if (typeof value !== "number" || !Number.isFinite(value)) return `${got}; it must be a number.`;
      if (spec.kind === "whole" && !Number.isInteger(value)) return `${got}; it must be a whole number.`;
      if (spec.min !== null && value < spec.min) return `${got}; the least is ${spec.min}.`;
      if (spec.max !== null && value > spec.max) return `${got}; the most is ${spec.max}.`;
      return null;
    case "yes-no":
      return typeof value === "boolean" ? null : `${got}; it must be yes or no (true or false).`;
    case "choice":
      return typeof value === "string" && spec.choices.includes(value) ? null : `${got}; choose one of ${spec.choices.join(", ")}.`;
    case "text":
    case "instrument":
      return typeof value === "string" && value.length <= 400 ? null : `${got}; it must be a text of at most 400 characters.`;
    case "timeframe":
      try {
        parseTimeframe(String(value));
        return null;
      } catch {
        return `${got}; write a timeframe such as 15m, 1h or 1d.`;
      }
    case "time":
      try {
        minutesOfDay(String(value));
        return null;
      } catch {
        return `${got}; write a time of day as HH:MM.`;
      }
  }
}

/**
 * Values for every input: given ones checked, the rest by default.
 * @throws PlanTesterError bad-input listing every value that does not fit and every name that is not declared.
 */
export function resolveInputs(specs: readonly InputSpec[], given: InputValues): Record<string, InputValue> {
  const problems: string[] = [];
  const values: Record<string, InputValue> = {};
  for (const spec of specs) {
    const value = Object.hasOwn(given, spec.name) ? given[spec.name]! : spec.default;
    const problem = inputProblem(spec, value);
    if (problem) problems.push(problem);
    values[spec.name] = value;
  }
  const known = new Set(specs.map((spec) => spec.name));
  for (const name of Object.keys(given))
    if (!known.has(name)) problems.push(`There is no input "${name}"; the plan declares ${[...known].join(", ") || "none"}.`);
  if (problems.length > 0) throw new PlanTesterError("bad-input", problems.join(" "), { problems });
  return values;
}
