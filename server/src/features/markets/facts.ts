/** Facts of an instrument over time: those it has, and those it had until they were changed. */
import { type FactsChange, type InstrumentFile, readInstrument } from "@plan-tester/contract";
import { factsChanges, type Instrument } from "@plan-tester/core";
import type { EntityManager } from "typeorm";
import { InstrumentVersionEntity, type InstrumentVersionRow, RepairEntity } from "../../db/entities.ts";

/** The facts of an instrument at a time. @param versions those of before, in any order */
export function factsAt(
  current: Instrument,
  versions: readonly Pick<InstrumentVersionRow, "facts" | "untilMs">[],
  atMs: number,
): Instrument {
  const later = versions.filter(({ untilMs }) => untilMs > atMs).sort((a, b) => a.untilMs - b.untilMs);
  return later[0]?.facts ?? current;
}

/** What was changed when, oldest first. */
export function changesOf(current: Instrument, versions: readonly Pick<InstrumentVersionRow, "facts" | "untilMs">[]): FactsChange[] {
  const sorted = [...versions].sort((a, b) => a.untilMs - b.untilMs);
  return sorted.map(({ facts, untilMs }, k) => ({ atMs: untilMs, changes: factsChanges(facts, sorted[k + 1]?.facts ?? current) }));
}

/** Facts after an import: what it does not ask for stays as it was, its name, its calendar and its costs among it. */
export function factsAfterImport(known: Instrument | null, given: InstrumentFile): Instrument {
  const told = readInstrument(given);
  if (!known) return told;
  const { currency, tickSize, pipSize, decimals, pointValue, minQuantity, quantityStep, calendar, costs } = told;
  return {
    ...known,
    ...{ currency, tickSize, pointValue, minQuantity, quantityStep },
    // Of another grid what was counted in before says nothing.
    ...(tickSize !== known.tickSize && { pipSize, decimals }),
    ...(given.calendar && { calendar }),
    ...(given.costs && { costs }),
  };
}

/** Puts facts in the place of others, which are kept where they differ. */
export async function keepFacts(manager: EntityManager, before: Instrument, after: Instrument, nowMs: number): Promise<void> {
  if (factsChanges(before, after).length === 0) return;
  await manager.insert(InstrumentVersionEntity, { symbol: before.symbol, facts: before, untilMs: nowMs });
}

/** A symbol is taken by another instrument than the one that was deleted: nothing of that one's past is its own. */
export async function forgetPast(manager: EntityManager, symbol: string): Promise<void> {
  await manager.delete(InstrumentVersionEntity, { symbol });
  await manager.delete(RepairEntity, { symbol });
}
