/**
 * Where a run stands in its bars. Columns read themselves at `index`, the last completed bar, so a plan can look back
 * but never ahead.
 */
export interface Cursor {
  index: number;
  /** Now, UTC milliseconds. */
  timeMs: number;
  /** Index of the session that now lies in. */
  session: number;
}
