/** The Sundrey Isles: instruments, seeded bars, example plans. */
export { HISTORY_FROM, HISTORY_TO, INSTRUMENTS, instrumentNamed } from "./instruments.ts";
export type { Carry } from "./characters.ts";
export { BarBuilder, characterOf, generateHistory, generateSession, type SessionPlan, sessionPlans, startCarry, WORLD_SEED } from "./generator.ts";
export { EXAMPLES, type Example, exampleSource } from "./examples.ts";
