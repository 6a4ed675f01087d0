/** What a plan may say of an order, checked and turned into what the engine takes. */
import type { Distance, ExitMoves, Lock, TimeInForce, TimeLimit, Trail } from "../engine/orders.ts";
import { PLAIN_ORDER } from "../engine/orders.ts";
import type { Size } from "../engine/sizing.ts";
import { PlanTesterError } from "../errors.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import { Condition, describe } from "./columns.ts";

export interface TrailOption {
  readonly distance: Distance;
  readonly after?: Distance;
  readonly step?: Distance;
}

export interface LockOption {
  readonly after: Distance;
  readonly keep?: Distance;
}

export interface ExitOptions {
  readonly stopLoss?: Distance;
  readonly target?: Distance;
  /** A stop that follows price: its distance, or when it starts and in which steps it moves. */
  readonly trail?: Distance | TrailOption;
  /** Once the profit is this large, the stop moves to the entry (plus `keep`). */
  readonly breakEven?: Distance | LockOption;
  readonly locks?: readonly LockOption[];
  readonly timeLimit?: { readonly bars?: number; readonly minutes?: number };
}

export interface EntryOptions extends ExitOptions {
  readonly size?: Size;
  readonly tag?: string;
  /** Orders that share a group: the first to fill cancels the others. */
  readonly group?: string;
  /** Closes an opposite position first, and then opens its own quantity. */
  readonly reverse?: boolean;
  /** How long it works: until cancelled (default), "session", a number of bars, or until an exchange time today. */
  readonly goodFor?: "session" | number | { readonly until: string };
  /** Not sent where this does not hold. */
  readonly onlyIf?: Condition;
  /** A market order that fills at the session's close. */
  readonly at?: "close";
}

/** Of an exit order. */
export interface CloseOptions {
  readonly size?: Size;
  /** Share of what is open, 0 to 1. */
  readonly part?: number;
  readonly tag?: string;
  /** Only lots whose entry had this tag. */
  readonly entryTag?: string;
  readonly group?: string;
  readonly goodFor?: EntryOptions["goodFor"];
  readonly at?: EntryOptions["at"];
}

const EXIT_FIELDS = ["stopLoss", "target", "trail", "breakEven", "locks", "timeLimit"] as const;
const ENTRY_FIELDS: ReadonlySet<string> = new Set(["size", ...EXIT_FIELDS, "tag", "group", "reverse", "goodFor", "onlyIf", "at"]);
const CLOSE_FIELDS: ReadonlySet<string> = new Set(["size", "part", "tag", "entryTag", "group", "goodFor", "at"]);

const wrong = (message: string): PlanTesterError => new PlanTesterError("plan-error", message);

function checkDistance(verb: string, field: string, given: unknown): void {
  if (given === undefined || typeof (given as Distance | null)?.unit === "string") return;
  throw wrong(
    `${verb}: ${field} needs a unit, e.g. ticks(40), percent(1.5), money(500), multiple(atr, 2) or price(412.5); it got ${describe(given)}.`,
  );
}

function checkFields(verb: string, options: unknown, fields: ReadonlySet<string>, example: string): void {
  if (typeof options !== "object" || options === null)
    throw wrong(`${verb} takes its options as one object, e.g. ${example}; it got ${describe(options)}.`);
  // By "in" rather than by a list of keys: this runs for every order, and a plan's options are made by the plan.
  for (const field in options)
    if (!fields.has(field)) throw wrong(`${verb}: there is no option "${field}". There are: ${[...fields].join(", ")}.`);
}

function checkSize(verb: string, size: Size | undefined): void {
  if (size !== undefined && typeof size?.by !== "string")
    throw wrong(`${verb}: size needs a unit, e.g. units(2), equityPercent(20) or riskPercent(0.5); it got ${describe(size)}.`);
}

function checkMoment(verb: string, at: unknown): void {
  if (at !== undefined && at !== "close") throw wrong(`${verb}: at is "close", the session's; it got ${describe(at)}.`);
}

/** The distance as it is at this moment: that of a study stands still once the order is sent (R3.6). */
export const fixed = <T extends Distance | null>(distance: T): T =>
  typeof distance === "object" && distance !== null && "isLive" in distance
    ? ({ unit: distance.unit, value: distance.value } as unknown as T)
    : distance;

/** An exit whose distance is 0 is switched off: an input of 0 means none. */
export const orNone = <T extends Distance>(distance: T | undefined): T | undefined => (distance?.value === 0 ? undefined : distance);

export function checkEntry(verb: string, options: unknown): EntryOptions {
  if (options === undefined) return {};
  checkFields(verb, options, ENTRY_FIELDS, "{ size: units(1), stopLoss: ticks(40) }");
  const given = options as EntryOptions;
  checkDistance(verb, "stopLoss", given.stopLoss);
  checkDistance(verb, "target", given.target);
  checkSize(verb, given.size);
  checkMoment(verb, given.at);
  if (given.onlyIf !== undefined && !(given.onlyIf instanceof Condition))
    throw wrong(`${verb}: onlyIf is a condition that build() declares, e.g. isAbove(bars.close, mean); it got ${describe(given.onlyIf)}.`);
  return given;
}

export function checkClose(verb: string, options: unknown): CloseOptions {
  if (options === undefined) return {};
  checkFields(verb, options, CLOSE_FIELDS, '{ part: 0.5, tag: "half" }');
  const given = options as CloseOptions;
  checkSize(verb, given.size);
  checkMoment(verb, given.at);
  if (given.part !== undefined && !(given.part > 0 && given.part <= 1))
    throw wrong(`${verb}: part is ${describe(given.part)}; it is the share to close, above 0 and up to 1.`);
  return given;
}

const isDistance = (value: object): value is Distance => "unit" in value;

function trailOf(verb: string, given: Distance | TrailOption): Trail {
  if (isDistance(given)) return { distance: fixed(given), after: null, step: null };
  checkDistance(verb, "trail.distance", given.distance ?? null);
  checkDistance(verb, "trail.after", given.after);
  checkDistance(verb, "trail.step", given.step);
  return { distance: fixed(given.distance), after: fixed(given.after ?? null), step: fixed(given.step ?? null) };
}

/** Whether the distance of an exit, given alone or in an object, is 0. */
function isOff(given: unknown): boolean {
  if (typeof given !== "object" || given === null) return false;
  const { value, distance, after } = given as { value?: number; distance?: Distance; after?: Distance };
  return value === 0 || distance?.value === 0 || (distance === undefined && after?.value === 0);
}

const MOST_LOCKS = 100;
const NOTHING: Distance = Object.freeze({ unit: "points", value: 0 });

function lockOf(verb: string, field: string, given: Distance | LockOption, reason: Lock["reason"]): Lock {
  if (isDistance(given)) return { after: fixed(given), keep: NOTHING, reason };
  checkDistance(verb, `${field}.after`, given.after ?? null);
  checkDistance(verb, `${field}.keep`, given.keep);
  return { after: fixed(given.after), keep: fixed(given.keep ?? NOTHING), reason };
}

function timeLimitOf(verb: string, given: NonNullable<ExitOptions["timeLimit"]>): TimeLimit {
  const { bars, minutes } = given;
  if (typeof bars === "number" && Number.isInteger(bars) && bars > 0 && minutes === undefined) return { bars };
  if (typeof minutes === "number" && minutes > 0 && bars === undefined) return { milliseconds: minutes * MINUTE_MS };
  throw wrong(`${verb}: timeLimit is { bars: 10 } or { minutes: 90 }; it got ${describe(bars ?? minutes)}.`);
}

/** How the exits move, or null where the options say nothing of it. */
export function movesOf(verb: string, options: ExitOptions): ExitMoves | null {
  const { locks } = options;
  const trail = isOff(options.trail) ? undefined : options.trail;
  const breakEven = isOff(options.breakEven) ? undefined : options.breakEven;
  const timeLimit = options.timeLimit?.bars === 0 || options.timeLimit?.minutes === 0 ? undefined : options.timeLimit;
  if (trail === undefined && breakEven === undefined && locks === undefined && timeLimit === undefined) return null;
  for (const [field, value] of [
    ["trail", trail],
    ["breakEven", breakEven],
    ["timeLimit", timeLimit],
  ] as const)
    if (value !== undefined && (typeof value !== "object" || value === null))
      throw wrong(`${verb}: ${field} needs a unit or an object, e.g. ticks(40); it got ${describe(value)}.`);
  if (locks !== undefined && !Array.isArray(locks)) throw wrong(`${verb}: locks is a list, e.g. [{ after: ticks(40), keep: ticks(10) }].`);
  if (locks && locks.length > MOST_LOCKS) throw wrong(`${verb}: locks has ${locks.length} rungs; the most is ${MOST_LOCKS}.`);
  const ladder: Lock[] = breakEven ? [lockOf(verb, "breakEven", breakEven, "break-even")] : [];
  for (const lock of locks ?? []) ladder.push(lockOf(verb, "locks", lock, "lock"));
  return {
    trail: trail ? trailOf(verb, trail) : null,
    locks: ladder,
    timeLimit: timeLimit ? timeLimitOf(verb, timeLimit) : null,
  };
}

/** `endOf` gives the UTC time of an exchange time today. */
export function lifeOf(goodFor: EntryOptions["goodFor"], verb: string, endOf: (wallTime: string) => number): TimeInForce {
  if (goodFor === undefined) return PLAIN_ORDER.timeInForce;
  if (goodFor === "session") return { until: "session" };
  if (typeof goodFor === "number" && Number.isInteger(goodFor) && goodFor > 0) return { until: "bars", bars: goodFor };
  if (typeof goodFor === "object" && typeof goodFor?.until === "string") return { until: "time", timeMs: endOf(goodFor.until) };
  throw wrong(`${verb}: goodFor is "session", a whole number of bars or { until: "15:30" }; it got ${describe(goodFor)}.`);
}

export const textOf = (given: unknown): string => (given === undefined ? "" : String(given).slice(0, 60));
