/** Lines of the source that the evidence points at, and the other way round. */
import { useCallback, useState } from "react";

export interface Reveal {
  readonly line: number;
  /** Changes each time the line should be shown again. */
  readonly turn: number;
  /** Whether the editor takes the keyboard. */
  readonly withFocus: boolean;
}

export function useReveal() {
  const [reveal, setReveal] = useState<Reveal | null>(null);
  const [wanted, setWanted] = useState<{ readonly line: number; readonly turn: number } | null>(null);
  const show = useCallback(
    (line: number, withFocus: boolean): void => setReveal((last) => ({ line, withFocus, turn: (last?.turn ?? 0) + 1 })),
    [],
  );
  const showLine = useCallback((line: number): void => show(line, true), [show]);
  const peekLine = useCallback((line: number): void => show(line, false), [show]);
  const wantLine = useCallback((line: number): void => setWanted((last) => ({ line, turn: (last?.turn ?? 0) + 1 })), []);
  return { reveal, showLine, peekLine, wanted, wantLine };
}
