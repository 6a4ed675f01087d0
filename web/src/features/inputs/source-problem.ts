/** What is wrong with a text, and where. */
export interface SourceProblem {
  readonly line: number;
  readonly column: number;
  readonly message: string;
}
