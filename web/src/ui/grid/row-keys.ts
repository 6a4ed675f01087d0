/** The keys of a table whose rows can be chosen: arrows, a screenful, the ends; Enter opens the chosen row. */
import type { KeyboardEvent } from "react";

export interface RowKeys {
  readonly rows: number;
  /** Place of the chosen row, -1 when none is. */
  readonly at: () => number;
  readonly onMove: (to: number) => void;
  readonly onOpen: () => void;
}

const SCREENFUL = 15;

const STEPS: Readonly<Record<string, (at: number, last: number) => number>> = {
  ArrowDown: (at) => at + 1,
  ArrowUp: (at) => at - 1,
  PageDown: (at) => at + SCREENFUL,
  PageUp: (at) => at - SCREENFUL,
  Home: () => 0,
  End: (_at, last) => last,
};

export function rowKeys({ rows, at, onMove, onOpen }: RowKeys): (event: KeyboardEvent) => void {
  return (event) => {
    // What is focused inside the table, such as the head of a column, keeps its own keys.
    if (event.target instanceof HTMLElement && event.target.closest("button")) return;
    const step = STEPS[event.key];
    if (rows === 0 || (!step && event.key !== "Enter")) return;
    const from = at();
    if (!step) {
      if (from >= 0) onOpen();
      return;
    }
    event.preventDefault();
    onMove(Math.max(0, Math.min(rows - 1, step(from, rows - 1))));
  };
}
