/** The rules of each side of a sheet: the short ones as written, or made of the long ones. */
import { mirrorGroup, type TurnNumber } from "./mirror.ts";
import type { RuleSheet, SheetGroup } from "./sheet.ts";

export interface SideRules<N = number> {
  readonly entry: SheetGroup<N>;
  readonly exit: SheetGroup<N>;
}

export interface BothSides<N = number> {
  readonly long: SideRules<N>;
  readonly short: SideRules<N>;
}

/** Of a sheet, or of its parts with something else in place of numbers. */
export function sidesOf<N>(
  sheet: Pick<RuleSheet, "shortMirrorsLong">,
  parts: Readonly<Record<"longEntry" | "shortEntry" | "longExit" | "shortExit", SheetGroup<N>>>,
  reflect: TurnNumber<N>,
): BothSides<N> {
  const { longEntry, shortEntry, longExit, shortExit } = parts;
  return {
    long: { entry: longEntry, exit: longExit },
    short: sheet.shortMirrorsLong
      ? { entry: mirrorGroup(longEntry, shortEntry.rules, reflect), exit: mirrorGroup(longExit, shortExit.rules, reflect) }
      : { entry: shortEntry, exit: shortExit },
  };
}

/** The rules of both sides with their numbers. */
export const rulesOfSides = (sheet: RuleSheet): BothSides => sidesOf(sheet, sheet, (number, about) => about - number);
