/** An exit kit with what was tried on paper, over whatever kit there was: a stop and a target. */
import { EMPTY_KIT, type ExitKit, type KitExits, NO_EXITS, type WhatIf } from "@plan-tester/core";

export function withLevels(kit: ExitKit | null, { stopTicks, targetTicks }: WhatIf): ExitKit {
  const base = kit ?? { ...EMPTY_KIT, name: "Asked levels" };
  const laid = (exits: KitExits | null): KitExits => ({
    ...(exits ?? NO_EXITS),
    ...(stopTicks === null ? {} : { stopLoss: { unit: "ticks" as const, value: stopTicks } }),
    ...(targetTicks === null ? {} : { target: { unit: "ticks" as const, value: targetTicks } }),
  });
  return { ...base, long: laid(base.long), short: laid(base.short) };
}
