/** A whole sheet as a short text that a colleague could check: both sides, exits and size, and what is not said. */
import type { KitDistance, KitExits, KitWindow } from "../engine/kit.ts";
import { capital } from "./program-inputs.ts";
import type { RuleSheet, SheetGroup, SheetSize } from "./sheet.ts";
import { rulesOfSides } from "./sides.ts";
import { activeRules, groupText, listed, numberText, valueText } from "./words.ts";

const UNITS: Readonly<Record<KitDistance["unit"], (value: string) => string>> = {
  ticks: (value) => `${value} ticks`,
  points: (value) => `${value} points`,
  pips: (value) => `${value} pips`,
  percent: (value) => `${value} %`,
  money: (value) => `${value} of money for the position`,
  "money per unit": (value) => `${value} of money a unit`,
  price: (value) => `the price ${value}`,
  R: (value) => `${value} R`,
};

/** An amount, as it is written, with its unit. */
export const amountText = (unit: KitDistance["unit"], amount: string): string => UNITS[unit](amount);

export const distanceText = ({ unit, value, study }: KitDistance): string =>
  study ? `${numberText(value)} times ${study}` : amountText(unit, numberText(value));

export function sizeText(size: SheetSize | null): string {
  if (!size) return "1 unit";
  switch (size.by) {
    case "units":
      return `${numberText(size.value)} units`;
    case "equity percent":
      return `units worth ${numberText(size.value)} % of equity`;
    case "risk percent":
      return `units that lose ${numberText(size.value)} % of equity at the stop loss`;
    case "risk money":
      return `units that lose ${numberText(size.value)} of money at the stop loss`;
    case "balance step":
      return `${numberText(size.value)} units for every full ${numberText(size.step)} of balance`;
  }
}

/** Sentences for the exits of one entry; `other` names what else ends a position where there is no stop loss. */
function exitSentences(exits: KitExits, closing: string): string[] {
  const { stopLoss, target, trail, breakEven, locks, timeLimit, flat } = exits;
  const said: string[] = [];
  if (stopLoss) said.push(`The stop loss is ${distanceText(stopLoss)} away.`);
  if (target) said.push(`The target is ${distanceText(target)} away.`);
  if (trail) {
    const after = trail.after ? `, once the profit is ${distanceText(trail.after)}` : "";
    const step = trail.step ? `, in steps of ${distanceText(trail.step)}` : "";
    said.push(`A stop trails by ${distanceText(trail.distance)}${after}${step}.`);
  }
  for (const { after, keep } of [...(breakEven ? [breakEven] : []), ...locks])
    said.push(
      `Once the profit is ${distanceText(after)}, the stop moves to the entry${keep.value === 0 ? "" : ` plus ${distanceText(keep)}`}.`,
    );
  if (timeLimit) said.push(`It is closed after ${"bars" in timeLimit ? `${timeLimit.bars} bars` : `${timeLimit.minutes} minutes`}.`);
  if (flat) said.push(`It is closed ${flat.minutes} minutes before the session's close.`);
  if (!stopLoss && !trail) said.push(`No stop loss: a position is held until ${closing}.`);
  return said;
}

function windowSentence(side: string, window: KitWindow | null): string[] {
  if (!window) return [];
  return window.by === "clock"
    ? [`${side} entries from ${window.from} to ${window.to} only.`]
    : [`${side} entries on bars ${window.from} to ${window.to} of the session only.`];
}

const hasRules = (group: SheetGroup): boolean => activeRules(group).length > 0;

export interface ReadBack {
  readonly heading: string;
  readonly sentences: readonly string[];
}

/** Paragraphs, in the order in which a position comes and goes. */
export function readBack(sheet: RuleSheet): ReadBack[] {
  const { long, short } = rulesOfSides(sheet);
  const sides = [
    { name: "Long", ...long, window: sheet.longWindow, exits: sheet.longExits },
    { name: "Short", ...short, window: sheet.shortWindow, exits: sheet.shortExits ?? sheet.longExits },
  ];
  const paragraphs: ReadBack[] = [];
  const isBoth = sides.every(({ entry }) => hasRules(entry));
  for (const { name, entry, exit, window, exits } of sides) {
    if (!hasRules(entry)) {
      paragraphs.push({ heading: name, sentences: [`No ${name.toLowerCase()} entries.`] });
      continue;
    }
    const sentences = [`${entering(sheet, name)} when ${groupText(entry)}.`, ...windowSentence(name, window)];
    if (hasRules(exit)) sentences.push(`It is closed when ${groupText(exit)}.`);
    if (sheet.acts === "orders") sentences.push(...exitSentences(exits, closingOf(sheet, hasRules(exit), exits, isBoth)));
    paragraphs.push({ heading: name, sentences });
  }
  if (hasRules(sheet.filters))
    paragraphs.push({ heading: "Filters", sentences: [`Entries of both sides only while ${groupText(sheet.filters)}.`] });
  paragraphs.push({ heading: sheet.acts === "alerts" ? "Alerts" : "Orders", sentences: orderSentences(sheet) });
  return paragraphs;
}

function entering({ acts }: RuleSheet, side: string): string {
  return acts === "alerts" ? `An alert says ${side.toLowerCase()}` : `Enters ${side.toLowerCase()}`;
}

/** What ends a position that has no stop loss. */
function closingOf({ guards }: RuleSheet, hasExit: boolean, exits: KitExits, isBoth: boolean): string {
  const ends = [
    ...(hasExit ? ["the exit rule"] : []),
    ...(exits.target ? ["the target"] : []),
    ...(exits.timeLimit ? ["the time limit"] : []),
    ...(exits.flat ? ["the close of the session"] : []),
    ...(isBoth && guards.whileOpen !== "wait" ? ["the opposite entry"] : []),
  ];
  return ends.length === 0 ? "the data end" : listed(ends, "or");
}

function orderSentences({ order, acts, guards, size, entersOn }: RuleSheet): string[] {
  const states =
    entersOn === "beginning"
      ? "Rules that hold for a while act on the bar on which they begin to hold."
      : "Rules that hold for a while act on every bar on which they hold.";
  if (acts === "alerts") return ["No orders are sent.", states];
  const said = [`The size is ${sizeText(size)}.`];
  if (order.kind === "market") said.push("Entries are at market, at the next bar's open.");
  else {
    const side = order.kind === "limit" ? "before" : "beyond";
    const away = order.offsetTicks === 0 ? "" : `${numberText(order.offsetTicks)} ticks ${side} `;
    const kind = order.kind === "price given" ? "stop or limit orders, by where the price lies," : `${order.kind} orders`;
    const time = order.goodForBars === 0 ? "for the session" : `for ${order.goodForBars} bars`;
    said.push(`Entries are ${kind} ${away ? away : "at "}${valueText(order.level)}, which work ${time}.`);
    if (order.cancelsOther) said.push("The first entry to fill cancels the other side's.");
  }
  said.push(states);
  said.push(
    {
      wait: "Nothing is entered while a position is open.",
      add: "Entries add to an open position, or reduce an opposite one.",
      reverse: "An entry closes an opposite position first.",
    }[guards.whileOpen],
  );
  if (guards.entriesPerSession !== null) said.push(`At most ${guards.entriesPerSession} entries a session.`);
  if (guards.coolDownBars !== null) said.push(`After a losing trade nothing is entered for ${guards.coolDownBars} bars.`);
  return said;
}

/** The same as one text. */
export const readBackText = (sheet: RuleSheet): string =>
  readBack(sheet)
    .map(({ heading, sentences }) => `${heading}: ${sentences.map(capital).join(" ")}`)
    .join("\n");
