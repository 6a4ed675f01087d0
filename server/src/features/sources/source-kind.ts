/** What a kind of source has to do: say what there is, and bring one of it. Held by `source-conformance.ts`. */
import type { SourceBody } from "@plan-tester/contract";

/** A file that a source has. */
export interface SourceItem {
  /** What it is called in the log. */
  readonly name: string;
  /** Tells it from every other, and from itself once it has changed. */
  readonly key: string;
  /** Whether it is brought at every look, since it can't be told whether it has changed. */
  readonly isAlways?: boolean;
  /**
   * Writes it to a file.
   * @returns false where there is none yet, which is no failure
   * @throws Error saying what went wrong
   */
  readonly bring: (file: string, signal: AbortSignal) => Promise<boolean>;
}

export interface SourceState {
  /** The exchange's date of the last bar that is there. */
  readonly lastDate: string;
  readonly nowMs: number;
}

export interface SourceKind {
  /** What can never be a place, before anything is kept. @throws PlanTesterError bad-input */
  readonly check: (source: SourceBody) => Promise<void>;
  /** All that there is to bring, in the order in which it is to be brought; what was brought already may be among it. */
  readonly items: (source: SourceBody, state: SourceState) => Promise<readonly SourceItem[]>;
}
