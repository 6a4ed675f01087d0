/** The Sundrey Isles: instruments, seeded bars, example plans. */

export { type Carry, type Character, goingOn } from "./characters.ts";
export { annualSharpe, costPerSide, EDGE_RULES, type EdgeRule } from "./edges.ts";
export { EXAMPLES, type Example, exampleSource, KITS, kitText, MODULES, moduleText } from "./examples.ts";
export {
  BarBuilder,
  characterOf,
  generateHistory,
  generateSession,
  type SessionPlan,
  sessionPlans,
  startCarry,
  WORLD_SEED,
} from "./generator.ts";
export { HISTORY_FROM, HISTORY_TO, INSTRUMENTS, instrumentNamed } from "./instruments.ts";
