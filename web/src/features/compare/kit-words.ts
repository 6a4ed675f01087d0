/** An exit kit in a few words: what it lays over a plan. */
import type { ExitKit, FlatTime, KitDistance, KitExits } from "@plan-tester/core";

const distance = ({ unit, value, study }: KitDistance): string =>
  study ? `${value} × ${study}` : unit === "price" ? `at ${value}` : `${value} ${unit}`;

export function flatWords(flat: FlatTime | null | undefined): string {
  if (!flat) return "";
  const when = flat.minutes === 0 ? "at the" : `${flat.minutes} min before the`;
  return `flat ${when} ${flat.of === "week" ? "weekend" : "close"}`;
}

function exitsWords({ stopLoss, target, trail, breakEven, locks, timeLimit, flat }: KitExits): string {
  return [
    stopLoss ? `stop ${distance(stopLoss)}` : "",
    target ? `target ${distance(target)}` : "",
    trail ? `trail ${distance(trail.distance)}` : "",
    breakEven ? `break-even after ${distance(breakEven.after)}` : "",
    locks.length > 0 ? `${locks.length} locks` : "",
    timeLimit ? ("bars" in timeLimit ? `${timeLimit.bars} bars` : `${timeLimit.minutes} min`) : "",
    flatWords(flat),
  ]
    .filter(Boolean)
    .join(", ");
}

export function kitWords(kit: ExitKit | null): string {
  if (!kit) return "none";
  const [long, short] = [kit.long ? exitsWords(kit.long) : "", kit.short ? exitsWords(kit.short) : ""];
  const limits = [
    kit.plansExits ? "" : "plan's own exits off",
    kit.sides === "both" ? "" : `only ${kit.sides}`,
    kit.entryLimit ? `entries at a limit ${kit.entryLimit.ticks} ticks better for ${kit.entryLimit.bars} bars` : "",
    kit.onePosition ? "one position" : "",
    kit.entriesPerSession === null ? "" : `${kit.entriesPerSession} entries a session`,
    kit.coolDownBars === null ? "" : `${kit.coolDownBars} bars after a loss`,
    kit.dailyLoss === null ? "" : `${kit.dailyLoss} loss a day`,
    kit.drawdown ? `drawdown of ${kit.drawdown.value} ${kit.drawdown.unit}` : "",
    kit.atLimit === "flatten" ? "flat at a limit" : "",
    kit.filter && !kit.isFilterOff ? `if ${kit.filter}` : "",
    kit.size ? `${kit.size.value} ${kit.size.by}` : "",
    kit.maxQuantity ? `at most ${kit.maxQuantity} units` : "",
  ];
  const exits = long === short ? [long] : [long && `long ${long}`, short && `short ${short}`];
  return [kit.name, [...exits, ...limits].filter(Boolean).join("; ")].filter(Boolean).join(": ");
}
