/** States of the calendar: the time at which a bar opens, and the weekday of its session. */
import { PlanTesterError } from "../errors.ts";
import { minutesOfDay } from "../market/calendar.ts";
import { studyNamed } from "../studies/catalogue.ts";
import { WEEKDAYS } from "./clock.ts";
import { type Column, describe, isAtOrAbove, isBelow, type State } from "./columns.ts";
import { declareStudy } from "./declare-study.ts";
import { type PlanBars, scopeOfBars } from "./market.ts";
import { isBetween } from "./memory.ts";

function factOf(bars: PlanBars, study: string, where: string): Column {
  const scope = scopeOfBars(bars);
  if (!scope) throw new PlanTesterError("plan-error", `${where} takes bars first; it got ${describe(bars)}.`);
  return declareStudy(studyNamed(study), scope, [], [])[0]!;
}

/** Holds on bars that open from the first exchange time up to, not including, the second; may pass midnight. */
export function opensBetween(bars: PlanBars, from: string, to: string): State {
  const minute = factOf(bars, "minuteOfDay", "opensBetween()");
  const [begin, end] = [minutesOfDay(String(from)), minutesOfDay(String(to))];
  return begin <= end ? isBetween(minute, begin, end, "lower") : isAtOrAbove(minute, begin).or(isBelow(minute, end));
}

/** Holds on bars of sessions whose date is one of these weekdays: `isOnWeekday(bars, ["monday", "friday"])`. */
export function isOnWeekday(bars: PlanBars, days: readonly string[]): State {
  const today = factOf(bars, "weekday", "isOnWeekday()");
  if (!Array.isArray(days) || days.length === 0)
    throw new PlanTesterError("plan-error", `isOnWeekday() takes a list such as ["monday", "friday"]; it got ${describe(days)}.`);
  const states = days.map((day) => {
    const index = WEEKDAYS.indexOf(String(day).toLowerCase() as (typeof WEEKDAYS)[number]);
    if (index < 0) throw new PlanTesterError("plan-error", `isOnWeekday() takes weekdays such as "monday"; it got ${describe(day)}.`);
    return isBetween(today, index || 7, index || 7, "both");
  });
  return states.reduce((any, state) => any.or(state) as State);
}
