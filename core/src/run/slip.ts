/** A likely slip in a plan's program, found by reading it or by what came of its run (N75). */
export const SLIP_CODES = ["unused input", "wrong side", "no guard", "dead exit", "no stop", "copied side", "always true"] as const;

export interface Slip {
  readonly code: (typeof SLIP_CODES)[number];
  /** Line of the plan's source. */
  readonly line: number;
  readonly text: string;
  readonly advice: string;
}
