/** Options of the command line, from text to what they mean; a wrong one is named with its value and how to write it. */
import { check, costsSchema, type SweepRange } from "@plan-tester/contract";
import {
  type Costs,
  DAY_MS,
  type InputSpec,
  type InputValue,
  type Instrument,
  inputProblem,
  NO_COSTS,
  PlanTesterError,
  SEARCH_METHODS,
  type Search,
  wallToUtc,
} from "@plan-tester/core";

export function numberOf(text: string, option: string): number {
  const value = Number(text);
  if (text.trim() === "" || !Number.isFinite(value))
    throw new PlanTesterError("bad-input", `${option} is "${text}"; it must be a number.`, {});
  return value;
}

export function costsOf(text: string, instrument: Instrument): Costs {
  if (text === "market") return instrument.costs;
  if (text === "none") return NO_COSTS;
  const given: Record<string, number> = {};
  for (const part of text.split(",")) {
    const [name, value] = part.split("=");
    if (!name || value === undefined || !(name in NO_COSTS))
      throw new PlanTesterError(
        "bad-input",
        `--costs: "${part}" is not understood. Write market, none, or e.g. commissionPerUnit=2.4,spreadTicks=1 (names: ${Object.keys(NO_COSTS).join(", ")}).`,
        {},
      );
    given[name] = numberOf(value, `--costs ${name}`);
  }
  return check<Costs>(costsSchema, { ...NO_COSTS, ...given }, "--costs");
}

/** Inputs as text become values of the kind that the plan declares. */
export function inputsOf(pairs: readonly string[], specs: readonly InputSpec[]): Record<string, InputValue> {
  const values: Record<string, InputValue> = {};
  for (const pair of pairs) {
    const at = pair.indexOf("=");
    const name = pair.slice(0, at);
    const text = pair.slice(at + 1);
    const spec = specs.find((candidate) => candidate.name === name);
    if (at < 1 || !spec)
      throw new PlanTesterError(
        "bad-input",
        `--input "${pair}": write name=value; the plan declares ${specs.map((s) => s.name).join(", ") || "no inputs"}.`,
        {},
      );
    const value: InputValue =
      spec.kind === "whole" || spec.kind === "decimal"
        ? numberOf(text, `--input ${name}`)
        : spec.kind === "yes-no"
          ? text === "true" || text === "yes"
            ? true
            : text === "false" || text === "no"
              ? false
              : text
          : text;
    const problem = inputProblem(spec, value);
    if (problem) throw new PlanTesterError("bad-input", `--input ${name}: ${problem}`, {});
    values[name] = value;
  }
  return values;
}

export function timeOf(text: string | undefined, option: string, instrument: Instrument, endOfDay: boolean): number | null {
  if (text === undefined) return null;
  if (/^\d{4}-\d{2}-\d{2}$/.test(text)) {
    const day = Date.parse(`${text}T00:00:00Z`);
    return wallToUtc(instrument.calendar.zone, endOfDay ? day + DAY_MS : day, 0);
  }
  const time = Date.parse(text);
  if (Number.isNaN(time))
    throw new PlanTesterError("bad-input", `${option} is "${text}"; write a date (2025-03-31) or a time (2025-03-31T07:00:00Z).`, {});
  return time;
}

export function rangeOf(text: string): SweepRange {
  const [input, values] = text.split("=");
  if (!input || !values) throw new PlanTesterError("bad-input", `--range "${text}": write name=from:to:step or name=a,b,c.`, {});
  const parts = values.split(":");
  if (parts.length === 3)
    return { input, from: numberOf(parts[0]!, "--range"), to: numberOf(parts[1]!, "--range"), step: numberOf(parts[2]!, "--range") };
  return {
    input,
    values: values
      .split(",")
      .map((value) =>
        value === "true" ? true : value === "false" ? false : value.trim() !== "" && Number.isFinite(Number(value)) ? Number(value) : value,
      ),
  };
}

/** A way to search and how many variants: evolution:400, or evolution:400:7 with a seed. */
export function searchOf(text: string | undefined): Search | null {
  if (text === undefined) return null;
  const [method, count, seed = "1"] = text.split(":");
  const known = SEARCH_METHODS.find((name) => name === method?.replaceAll("-", " "));
  if (!known || count === undefined)
    throw new PlanTesterError(
      "bad-input",
      `--search "${text}": write method:count, with ${SEARCH_METHODS.map((name) => name.replaceAll(" ", "-")).join(", ")}, e.g. evolution:400.`,
      {},
    );
  const numbers = [numberOf(count, "--search, count"), numberOf(seed, "--search, seed")] as const;
  if (!numbers.every((value, i) => Number.isInteger(value) && value >= 1 - i))
    throw new PlanTesterError("bad-input", `--search "${text}": count and seed must be whole numbers above 0.`, {});
  return { method: known, count: numbers[0], seed: numbers[1] };
}
