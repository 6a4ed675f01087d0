/** How the facts of an instrument differ, in words. */
import type { SessionCalendar } from "./calendar.ts";
import type { Costs, Instrument } from "./instrument.ts";

const FACTS: readonly (readonly [Exclude<keyof Instrument, "symbol" | "calendar" | "costs">, string])[] = [
  ["name", "name"],
  ["class", "class"],
  ["currency", "currency"],
  ["tickSize", "tick size"],
  ["pipSize", "pip size"],
  ["pointValue", "value of 1.0"],
  ["decimals", "decimals"],
  ["minQuantity", "least size"],
  ["quantityStep", "size step"],
  ["note", "note"],
];
const COSTS: readonly (readonly [keyof Costs, string])[] = [
  ["commissionPerOrder", "commission per order"],
  ["commissionPerUnit", "commission per unit"],
  ["commissionPercent", "commission in percent"],
  ["commissionMinimum", "least commission"],
  ["spreadTicks", "spread"],
  ["slippageTicks", "slippage"],
  ["slippageRange", "slippage of the range"],
  ["slippageRandomTicks", "random slippage"],
  ["financingLong", "financing of longs"],
  ["financingShort", "financing of shorts"],
];

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function calendarChanges(a: SessionCalendar, b: SessionCalendar): string[] {
  const changes: string[] = [];
  if (a.zone !== b.zone) changes.push(`zone ${a.zone} to ${b.zone}`);
  if (!same(a.weekly, b.weekly)) changes.push("weekly sessions");
  if (!same(a.holidays, b.holidays)) changes.push(`holidays ${a.holidays.length} to ${b.holidays.length}`);
  if (!same(a.earlyCloses, b.earlyCloses)) changes.push(`early closes ${a.earlyCloses.length} to ${b.earlyCloses.length}`);
  if (!same(a.names ?? [], b.names ?? [])) changes.push("names of special days");
  if (a.sessionsPerYear !== b.sessionsPerYear) changes.push(`sessions a year ${a.sessionsPerYear} to ${b.sessionsPerYear}`);
  return changes;
}

/** What was changed from one to the other; empty where they are the same. */
export function factsChanges(before: Instrument, after: Instrument): string[] {
  const worded = (label: string, a: unknown, b: unknown): string[] => {
    if (a === b) return [];
    return typeof a === "string" && (a.length > 24 || a === "" || b === "") ? [label] : [`${label} ${a} to ${b}`];
  };
  return [
    ...FACTS.flatMap(([name, label]) => worded(label, before[name], after[name])),
    ...COSTS.flatMap(([name, label]) => worded(label, before.costs[name], after.costs[name])),
    ...calendarChanges(before.calendar, after.calendar),
  ];
}
