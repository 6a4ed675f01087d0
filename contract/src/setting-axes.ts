/**
 * What a sweep can vary besides a plan's inputs: instrument, timeframe, size, and the numbers of the exit kit as it
 * stands. Each is an input of a kind, under a name with a dot in it, so that ranges, conditions and views treat it alike.
 */
import type { ExitKit, InputSpec, InputValue, InputValues, KitDistance } from "@plan-tester/core";
import type { RunSettings, SweepRange } from "./schemas.ts";
import { type SweepScope, valuesOf } from "./sweep-space.ts";

export const SYMBOL_AXIS = "run.symbol";
export const TIMEFRAME_AXIS = "run.timeframe";

/** Settings that can vary. */
export type VariedSettings = Pick<RunSettings, "symbol" | "timeframe" | "kit">;

/** A number of a kit: what it is called, and where it stands. */
interface KitNumber {
  readonly name: string;
  readonly label: string;
  readonly unit: string;
  readonly whole: boolean;
  readonly value: number;
  /** One, or two where both sides have the same exits. */
  readonly paths: readonly (readonly string[])[];
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);
const unitOf = ({ unit, study }: KitDistance): string => (study ? `× ${study}` : unit);

/** Exits of one side, or of both: a distance by its name, its label and the way to it. */
function distancesOf(exits: NonNullable<ExitKit["long"]>): [string, string, KitDistance | null | undefined, string[]][] {
  const { stopLoss, target, trail, breakEven, locks } = exits;
  return [
    ["stop", "stop", stopLoss, ["stopLoss"]],
    ["target", "target", target, ["target"]],
    ["trail", "trailing stop", trail?.distance, ["trail", "distance"]],
    ["trailAfter", "trailing stop, after", trail?.after, ["trail", "after"]],
    ["trailStep", "trailing stop, step", trail?.step, ["trail", "step"]],
    ["breakEvenAfter", "break-even, after", breakEven?.after, ["breakEven", "after"]],
    ["breakEvenKeep", "break-even, keep", breakEven?.keep, ["breakEven", "keep"]],
    ...locks.flatMap((lock, i): [string, string, KitDistance, string[]][] => [
      [`lock${i + 1}After`, `lock ${i + 1}, after`, lock.after, ["locks", String(i), "after"]],
      [`lock${i + 1}Keep`, `lock ${i + 1}, keep`, lock.keep, ["locks", String(i), "keep"]],
    ]),
  ];
}

/** Every variant of a sweep asks for those of the same kit. */
const numbersOf = new WeakMap<ExitKit, readonly KitNumber[]>();

/** The numbers of a kit's exits, size and limits. Where both sides have the same exits they move together. */
function kitNumbers(kit: ExitKit): readonly KitNumber[] {
  const known = numbersOf.get(kit) ?? findNumbers(kit);
  numbersOf.set(kit, known);
  return known;
}

function findNumbers(kit: ExitKit): KitNumber[] {
  const found: KitNumber[] = [];
  const both = kit.long !== null && isSame(kit.long, kit.short);
  for (const side of ["long", "short"] as const) {
    const exits = kit[side];
    if (!exits || (both && side === "short")) continue;
    const sides = both ? ["long", "short"] : [side];
    const prefix = both ? "kit" : `kit.${side}`;
    const words = both ? "" : side === "long" ? " of longs" : " of shorts";
    for (const [name, label, distance, path] of distancesOf(exits))
      if (distance)
        found.push({
          ...{ name: `${prefix}.${name}`, label: `Kit ${label}${words}`, unit: unitOf(distance), whole: false, value: distance.value },
          paths: sides.map((of) => [of, ...path, "value"]),
        });
    const { timeLimit } = exits;
    if (timeLimit) {
      const [unit, value] = Object.entries(timeLimit)[0]!;
      found.push({
        ...{ name: `${prefix}.timeLimit`, label: `Kit time limit${words}`, unit, whole: unit === "bars", value },
        paths: sides.map((of) => [of, "timeLimit", unit]),
      });
    }
  }
  const plain = (name: keyof ExitKit, label: string, unit: string, value: number | null): void => {
    if (value !== null) found.push({ name: `kit.${name}`, label, unit, whole: unit !== "money", value, paths: [[name]] });
  };
  if (kit.size)
    found.push({ name: "kit.size", label: "Kit size", unit: kit.size.by, whole: false, value: kit.size.value, paths: [["size", "value"]] });
  if (kit.maxQuantity)
    found.push({
      ...{ name: "kit.maxQuantity", label: "Kit largest size", unit: "units", whole: false, value: kit.maxQuantity },
      paths: [["maxQuantity"]],
    });
  if (kit.entryLimit) {
    const { ticks, bars } = kit.entryLimit;
    found.push({
      ...{ name: "kit.entryLimit.ticks", label: "Kit entry limit", unit: "ticks", whole: false, value: ticks },
      paths: [["entryLimit", "ticks"]],
    });
    found.push({
      ...{ name: "kit.entryLimit.bars", label: "Kit entry limit's life", unit: "bars", whole: true, value: bars },
      paths: [["entryLimit", "bars"]],
    });
  }
  plain("entriesPerSession", "Kit entries a session", "entries", kit.entriesPerSession);
  plain("coolDownBars", "Kit cool-down", "bars", kit.coolDownBars);
  plain("dailyLoss", "Kit daily loss", "money", kit.dailyLoss);
  if (kit.drawdown) {
    const { unit, value } = kit.drawdown;
    found.push({ name: "kit.drawdown", label: "Kit drawdown", unit, whole: false, value, paths: [["drawdown", "value"]] });
  }
  return found;
}

/** A step of about an eighth of a number: 1, 2 or 5 times a power of ten. */
function niceStep(value: number): number {
  const rough = Math.max(Math.abs(value) / 8, 1e-6);
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].find((factor) => factor * power >= rough * 0.99) ?? 10;
  return Number((step * power).toPrecision(6));
}

const choiceOf = (name: string, label: string, value: string, choices: readonly string[]): InputSpec => ({
  ...{ name, label, kind: "choice", default: value, choices, min: null, max: null, step: null, unit: "", group: "Run", help: "" },
});

/**
 * Settings that can vary beside the inputs of a plan, as they stand.
 * @param offered instruments and timeframes there are to choose from.
 */
export function settingSpecs(
  settings: VariedSettings,
  offered: { readonly symbols: readonly string[]; readonly timeframes: readonly string[] },
): InputSpec[] {
  const withOwn = (own: string, others: readonly string[]): readonly string[] => (others.includes(own) ? others : [own, ...others]);
  const numbers = settings.kit ? kitNumbers(settings.kit) : [];
  return [
    choiceOf(SYMBOL_AXIS, "Instrument", settings.symbol, withOwn(settings.symbol, offered.symbols)),
    choiceOf(TIMEFRAME_AXIS, "Timeframe", settings.timeframe, withOwn(settings.timeframe, offered.timeframes)),
    ...numbers.map(
      ({ name, label, unit, whole, value }): InputSpec => ({
        ...{ name, label, kind: whole ? "whole" : "decimal", default: value, choices: [], max: null, unit, group: "Exit kit", help: "" },
        min: whole ? 1 : 0,
        step: whole ? 1 : niceStep(value),
      }),
    ),
  ];
}

/** Instruments and timeframes that a sweep runs on: those that vary, or its own. */
export function marketsOf(
  { symbol, timeframe }: VariedSettings,
  ranges: readonly SweepRange[],
): { readonly symbols: readonly string[]; readonly timeframes: readonly string[] } {
  const along = (axis: string, own: string): readonly string[] => {
    const range = ranges.find(({ input }) => input === axis);
    return range ? valuesOf(range).map(String) : [own];
  };
  return { symbols: along(SYMBOL_AXIS, symbol), timeframes: along(TIMEFRAME_AXIS, timeframe) };
}

/** Inputs of a plan, and the settings that vary or follow beside them. A plan's own input goes before a setting of the same name. */
export function withSettings(
  inputs: readonly InputSpec[],
  settings: VariedSettings,
  { ranges, constraints = [] }: SweepScope,
): InputSpec[] {
  const offered = settingSpecs(settings, marketsOf(settings, ranges));
  const own = new Set(inputs.map(({ name }) => name));
  const varied = new Set(ranges.map(({ input }) => input));
  const isUsed = (name: string): boolean => varied.has(name) || constraints.some((text) => text.includes(name));
  return [...inputs, ...offered.filter(({ name }) => !own.has(name) && isUsed(name))];
}

/** What a variant comes to: the plan's inputs, and the settings it runs with. */
export interface VariantRun<S extends VariedSettings = RunSettings> {
  readonly inputs: InputValues;
  readonly settings: S;
}

/** Parts a variant into the plan's inputs and what it changes of the settings. */
export function runOfVariant<S extends VariedSettings>(variant: InputValues, settings: S): VariantRun<S> {
  const names = Object.keys(variant).filter((name) => name.includes("."));
  if (names.length === 0) return { inputs: variant, settings };
  const inputs: Record<string, InputValue> = { ...variant };
  let { symbol, timeframe, kit } = settings;
  const numbers = kit ? kitNumbers(kit) : [];
  for (const name of names) {
    const value = variant[name]!;
    const number = numbers.find((known) => known.name === name);
    if (name === SYMBOL_AXIS) symbol = String(value);
    else if (name === TIMEFRAME_AXIS) timeframe = String(value);
    else if (number && kit) kit = number.paths.reduce((changed, path) => withValue(changed, path, Number(value)), kit);
    // Case: an input of the plan that has a dot in its name.
    else continue;
    delete inputs[name];
  }
  return { inputs, settings: { ...settings, symbol, timeframe, kit } };
}

/** The same data with another number at a place. */
function withValue<T>(data: T, [head, ...rest]: readonly string[], value: number): T {
  if (head === undefined) return value as T;
  const inner = withValue((data as Record<string, unknown>)[head], rest, value);
  if (Array.isArray(data)) return data.map((item, i) => (String(i) === head ? inner : item)) as T;
  return { ...data, [head]: inner };
}
