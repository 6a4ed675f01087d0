/** The sheet of a plan's text, and how it is changed: with undo, and with inputs that follow the numbers of the sheet. */
import { sheetIn, textOfSheet } from "@plan-tester/contract";
import { type InputValue, type RuleSheet, writeProgram } from "@plan-tester/core";
import { useCallback, useMemo, useRef, useState } from "react";
import { toast } from "sonner";

const MOST_UNDONE = 200;

export interface SheetState {
  readonly sheet: RuleSheet;
  readonly change: (next: RuleSheet) => void;
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
}

export interface SheetDraft {
  readonly source: string;
  readonly inputs: Readonly<Record<string, InputValue>>;
}

/** Values that were set beside the sheet and whose input is still what it was: what is changed in the sheet counts from then on. */
export function inputsKept(before: RuleSheet, next: RuleSheet, inputs: SheetDraft["inputs"]): SheetDraft["inputs"] {
  if (Object.keys(inputs).length === 0) return inputs;
  const [old, now] = [writeProgram(before).inputs, writeProgram(next).inputs];
  return Object.fromEntries(Object.entries(inputs).filter(([name]) => now.has(name) && old.get(name) === now.get(name)));
}

/** @param draft of a plan with a sheet */
export function useSheet(draft: SheetDraft, onChange: (draft: SheetDraft) => void): SheetState {
  const sheet = useMemo(() => sheetIn(draft.source)!, [draft.source]);
  const latest = useRef({ sheet, inputs: draft.inputs });
  latest.current = { sheet, inputs: draft.inputs };
  const [past, setPast] = useState<readonly RuleSheet[]>([]);
  const [future, setFuture] = useState<readonly RuleSheet[]>([]);
  const put = useCallback(
    (next: RuleSheet): boolean => {
      const { sheet: before, inputs } = latest.current;
      try {
        onChange({ source: textOfSheet(next), inputs: inputsKept(before, next, inputs) });
        return true;
      } catch (error) {
        toast.error(error instanceof Error ? error.message : String(error));
        return false;
      }
    },
    [onChange],
  );
  const change = useCallback(
    (next: RuleSheet): void => {
      const before = latest.current.sheet;
      if (next === before || !put(next)) return;
      setPast((all) => [...all, before].slice(-MOST_UNDONE));
      setFuture([]);
    },
    [put],
  );
  const step = (from: readonly RuleSheet[], setFrom: typeof setPast, setTo: typeof setPast) =>
    from.length === 0
      ? null
      : (): void => {
          const before = latest.current.sheet;
          if (!put(from.at(-1)!)) return;
          setFrom((all) => all.slice(0, -1));
          setTo((all) => [...all, before]);
        };
  return { sheet, change, undo: step(past, setPast, setFuture), redo: step(future, setFuture, setPast) };
}
