/**
 * Errors as data: every failure that a user can mend carries a code from a closed list, a message that says what was
 * wrong, where, and how to mend it, and details that a program can read.
 */
export type ErrorCode =
  | "bad-input"
  | "bad-bars"
  | "bad-calendar"
  | "bad-instrument"
  | "bad-plan"
  | "bad-settings"
  | "bad-study"
  | "bad-timeframe"
  | "bad-order"
  | "not-found"
  | "conflict"
  | "limit"
  | "plan-error"
  | "stopped"
  | "storage"
  | "unavailable";

export class PlanTesterError extends Error {
  readonly code: ErrorCode;
  readonly details: Readonly<Record<string, unknown>>;

  constructor(code: ErrorCode, message: string, details: Record<string, unknown> = {}) {
    super(message);
    this.name = "PlanTesterError";
    this.code = code;
    this.details = details;
  }
}

/** A plan's own failure: the line and column of the user's source and the bar at which it happened, where known. */
export interface PlanFailure {
  readonly message: string;
  readonly line: number | null;
  readonly column: number | null;
  readonly barIndex: number | null;
  readonly barTimeMs: number | null;
}
