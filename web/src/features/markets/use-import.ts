/** Files of bars on their way: one after another, asked about where they differ from what is there, stopped. */
import type { ImportReport, ImportRequest } from "@plan-tester/contract";
import type { Overlap, OverlapChoice } from "@plan-tester/core";
import { useState } from "react";
import { useServerEvents } from "../../data/events.ts";
import { useChange } from "../../data/use-change.ts";

export interface ImportProgress {
  readonly file: File;
  /** Which of how many, from 1. */
  readonly number: number;
  readonly files: number;
  readonly done: number;
  readonly beganMs: number;
}

/** What came of all files that are through. */
export type ImportResult = ImportReport & { readonly files: number };

const overlapOf = ({ overlap, bars }: ImportReport): Overlap => overlap ?? { same: 0, differs: 0, fresh: bars, examples: [] };

const sum = (a: Overlap, b: Overlap): Overlap => ({
  ...{ same: a.same + b.same, differs: a.differs + b.differs, fresh: a.fresh + b.fresh, examples: [] },
});

const together = (before: ImportResult | null, { ...report }: ImportReport): ImportResult =>
  before === null
    ? { ...report, files: 1 }
    : {
        ...report,
        files: before.files + 1,
        overlap: sum(overlapOf(before), overlapOf(report)),
        rows: before.rows + report.rows,
        bars: before.bars + report.bars,
        rejected: before.rejected + report.rejected,
        problems: [...before.problems, ...report.problems].slice(0, 200),
        outsideSessions: before.outsideSessions + report.outsideSessions,
        firstMs: Math.min(before.firstMs, report.firstMs),
        lastMs: Math.max(before.lastMs, report.lastMs),
        elapsedMs: before.elapsedMs + report.elapsedMs,
        repairs: { kept: report.repairs.kept, undone: before.repairs.undone + report.repairs.undone },
      };

interface Waiting {
  readonly files: readonly File[];
  readonly request: ImportRequest;
  readonly at: number;
  readonly before: ImportResult | null;
}

export function useImport() {
  const importBars = useChange("importBars", { shows: true });
  const [under, setUnder] = useState<(ImportProgress & { id: string }) | null>(null);
  const [result, setResult] = useState<ImportResult | null>(null);
  const [asked, setAsked] = useState<(Waiting & { report: ImportReport }) | null>(null);
  useServerEvents((event) => {
    if (event.type === "import-progress") setUnder((known) => (known?.id === event.id ? { ...known, done: event.done } : known));
  });

  const goOn = async ({ files, request, at, before }: Waiting, choice: "ask" | OverlapChoice): Promise<void> => {
    setAsked(null);
    let made = before;
    for (let k = at; k < files.length; k++) {
      const id = crypto.randomUUID().slice(0, 13);
      const file = files[k]!;
      setUnder({ id, file, number: k + 1, files: files.length, done: 0, beganMs: Date.now() });
      const spec: ImportRequest = { ...request, mode: k === 0 ? (request.mode ?? "replace") : "add", overlap: k === at ? choice : "ask" };
      const answer = await importBars.run({ id, spec }, file);
      setUnder(null);
      // Those ahead of one that was refused are there.
      if (!answer) return setResult(made);
      if (!answer.reply.isDone) return setAsked({ files, request, at: k, before: made, report: answer.reply });
      made = together(made, answer.reply);
    }
    setResult(made);
  };

  return {
    /** The file under way. */
    progress: under,
    result,
    error: importBars.error,
    /** Bars that differ from those there are: nothing goes on until it is said which stay. */
    asked: asked && { file: asked.files[asked.at]!, overlap: asked.report.overlap! },
    start: (files: readonly File[], request: ImportRequest) => goOn({ files, request, at: 0, before: null }, "ask"),
    answer: (choice: OverlapChoice) => (asked ? goOn(asked, choice) : Promise.resolve()),
    stop: importBars.stop,
    forget: () => {
      importBars.forget();
      setResult(null);
      setAsked(null);
    },
  };
}
