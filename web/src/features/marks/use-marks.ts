/** Marks of an instrument: made, changed and deleted, with an undo of what was deleted. */
import type { Mark } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";

export interface Marks {
  readonly marks: readonly Mark[];
  readonly put: (mark: Mark) => void;
  readonly remove: (mark: Mark) => void;
}

const NONE: readonly Mark[] = [];

export function useMarks(symbol: string): Marks {
  const marks = useQuery(queries.marks(symbol)).data ?? NONE;
  const change = useChange("putMark");
  const forget = useChange("deleteMark");
  const put = ({ id, ...mark }: Mark): void => void change.run({ symbol, id }, mark);
  const remove = async (mark: Mark): Promise<void> => {
    if (await forget.run({ symbol, id: mark.id })) toast("Mark deleted", { action: { label: "Undo", onClick: () => put(mark) } });
  };
  return { marks, put, remove: (mark) => void remove(mark) };
}

/** Marks that are about a plan, of an instrument that a run is on, with their entry in its bars. */
export function marksOf(marks: readonly Mark[], planId: string, time: Float64Array, endMs: number): readonly Mark[] {
  const first = time[0] ?? Number.POSITIVE_INFINITY;
  return marks.filter((mark) => (mark.planId === "" || mark.planId === planId) && mark.entryMs >= first && mark.entryMs < endMs);
}
