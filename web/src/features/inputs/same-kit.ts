/** Whether two exit kits do the same, whatever they are called and whatever made them. */
import { EMPTY_KIT, type ExitKit } from "@plan-tester/core";

/** A kit with everything that it leaves out, in one order. */
const asText = (kit: ExitKit): string =>
  JSON.stringify(Object.entries({ ...EMPTY_KIT, ...kit, name: "" }).sort(([a], [b]) => (a < b ? -1 : 1)));

export const isSameKit = (one: ExitKit, other: ExitKit): boolean => asText(one) === asText(other);
