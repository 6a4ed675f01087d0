/** Exits and size of a sheet as options of an entry. */
import type { KitDistance, KitExits } from "../engine/kit.ts";
import type { DistanceUnit } from "../engine/orders.ts";
import { capital, type ProgramInputs } from "./program-inputs.ts";
import type { SheetSize } from "./sheet.ts";

/** The words of the language for distances, by unit. */
export const DISTANCE_CALLS: Readonly<Record<DistanceUnit, string>> = {
  ticks: "ticks",
  points: "points",
  pips: "pips",
  percent: "percent",
  money: "money",
  "money per unit": "moneyPerUnit",
  price: "price",
  R: "R",
};

/** What makes columns of the studies that exits use: their names by expression text. */
export type StudyNames = (study: string) => string;

export class ExitsCode {
  readonly #inputs: ProgramInputs;
  readonly #studies: StudyNames;
  readonly #side: string;
  readonly #group: string;

  /** @param side put ahead of input names where both sides have exits of their own: "", "long", "short" */
  constructor(inputs: ProgramInputs, studies: StudyNames, side: string) {
    this.#inputs = inputs;
    this.#studies = studies;
    this.#side = side;
    this.#group = side === "" ? "Exits" : `Exits, ${side}`;
  }

  #named(name: string): string {
    return this.#side === "" ? name : this.#side + capital(name);
  }

  #distance({ unit, value, study }: KitDistance, name: string, label: string): string {
    const bounds = { whole: false, min: value < 0 ? null : 0, max: null, unit: study ? `x ${study}` : unit };
    const input = this.#inputs.number(this.#named(name), value, bounds, label, this.#group);
    return study ? `multiple(${this.#studies(study)}, ${input})` : `${DISTANCE_CALLS[unit]}(${input})`;
  }

  /** Options, one a line: "stopLoss: ticks(inputs.stopLoss)". */
  options(exits: KitExits): string[] {
    const { stopLoss, target, trail, breakEven, locks, timeLimit } = exits;
    const options: string[] = [];
    if (stopLoss) options.push(`stopLoss: ${this.#distance(stopLoss, "stopLoss", "Stop loss")}`);
    if (target) options.push(`target: ${this.#distance(target, "target", "Target")}`);
    if (trail) {
      const parts = [`distance: ${this.#distance(trail.distance, "trail", "Trail")}`];
      if (trail.after) parts.push(`after: ${this.#distance(trail.after, "trailAfter", "Trail after a profit of")}`);
      if (trail.step) parts.push(`step: ${this.#distance(trail.step, "trailStep", "Trail in steps of")}`);
      options.push(`trail: { ${parts.join(", ")} }`);
    }
    if (breakEven) options.push(`breakEven: ${this.#lock(breakEven, "breakEven", "Break-even")}`);
    if (locks.length > 0) options.push(`locks: [${locks.map((lock, i) => this.#lock(lock, `lock${i + 1}`, `Lock ${i + 1}`)).join(", ")}]`);
    if (timeLimit) {
      const [unit, value] = "bars" in timeLimit ? (["bars", timeLimit.bars] as const) : (["minutes", timeLimit.minutes] as const);
      const role = { whole: unit === "bars", min: 1, max: null, unit };
      options.push(`timeLimit: { ${unit}: ${this.#inputs.number(this.#named("timeLimit"), value, role, "Time limit", this.#group)} }`);
    }
    return options;
  }

  #lock({ after, keep }: { readonly after: KitDistance; readonly keep: KitDistance }, name: string, label: string): string {
    return `{ after: ${this.#distance(after, name, `${label} after`)}, keep: ${this.#distance(keep, `${name}Keep`, `${label} keeps`)} }`;
  }

  /** Minutes ahead of the session's close at which this side is closed, as code; null where it may be held. */
  flatMinutes(exits: KitExits): string | null {
    if (!exits.flat) return null;
    const role = { whole: true, min: 1, max: 1440, unit: "minutes" };
    return this.#inputs.number(this.#named("flatBefore"), exits.flat.minutes, role, "Flat before the close", this.#group);
  }
}

const SIZE_CALLS: Readonly<Record<SheetSize["by"], readonly [string, string]>> = {
  units: ["units", "units"],
  "equity percent": ["equityPercent", "% of equity"],
  "risk percent": ["riskPercent", "% of equity"],
  "risk money": ["riskMoney", "money"],
  "balance step": ["unitsPerBalance", "units"],
};

/** The size as an option of an entry. */
export function sizeCode(size: SheetSize, inputs: ProgramInputs): string {
  const [call, unit] = SIZE_CALLS[size.by];
  const positive = { whole: false, min: 0, max: null, unit };
  const value = inputs.number("size", size.value, positive, "Size", "Size");
  if (size.by !== "balance step") return `size: ${call}(${value})`;
  const step = inputs.number("balanceStep", size.step, { ...positive, unit: "money" }, "for every full", "Size");
  return `size: ${call}(${value}, ${step})`;
}
