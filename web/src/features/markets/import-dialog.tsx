/** Imports a file of bars: pick the file, see how it was read, correct it, get a report by line. */
import type { ImportRequest, Market } from "@plan-tester/contract";
import { barFacts, type CsvLayout, type LayoutQuestion, type ParsedBars, readerOf } from "@plan-tester/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Progress } from "../../ui/progress.tsx";
import { Failure } from "../../ui/states.tsx";
import { type ImportFacts, ImportForm } from "./import-form.tsx";
import { answeredBy, ImportQuestions } from "./import-questions.tsx";
import { type ImportSample, readSample } from "./import-sample.ts";
import { ImportedReport } from "./imported-report.tsx";

/** What an import asks of an instrument that there is already is as it was. */
function asKnown(facts: ImportFacts, markets: readonly Market[]): ImportFacts {
  const known = marketOf(markets, facts.symbol);
  if (known?.origin !== "import") return facts;
  const { currency, tickSize, pointValue, minQuantity, quantityStep } = known.instrument;
  return { ...facts, currency, tickSize, pointValue, minQuantity, quantityStep };
}

export function ImportDialog({ onClose }: { readonly onClose: () => void }) {
  const [sample, setSample] = useState<ImportSample | null>(null);
  const [format, setFormat] = useState<CsvLayout | null>(null);
  const [facts, setFacts] = useState<ImportFacts | null>(null);
  const [progress, setProgress] = useState<{ id: string; done: number; total: number } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [answered, setAnswered] = useState<readonly LayoutQuestion["about"][]>([]);
  const client = useQueryClient();
  const { data: markets = [] } = useQuery(queries.markets());
  const importBars = useChange("importBars", { shows: true });
  const report = importBars.reply ?? null;
  useServerEvents((event) => {
    if (event.type === "import-progress")
      setProgress((known) => (known?.id === event.id ? { ...known, done: event.done, total: event.total } : known));
  });

  const pick = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setError(null);
    importBars.forget();
    try {
      const [read, known] = await Promise.all([readSample(file), client.ensureQueryData(queries.markets())]);
      setSample(read.sample);
      setFormat(read.format);
      setFacts(asKnown(read.facts, known));
      setAnswered([]);
    } catch (problem) {
      setError(problem);
    }
  };

  const open = sample?.questions.filter(({ about }) => !answered.includes(about)) ?? [];
  /** What was chosen by hand is an answer too. */
  const change = (next: CsvLayout, about = answeredBy(format, next)): void => {
    setFormat(next);
    setAnswered([...answered, ...about]);
    // Read otherwise they may lie otherwise apart, and on another grid.
    if (sample && facts && about.length > 0) setFacts({ ...facts, ...barFacts(sample.text, next) });
  };

  const preview = useMemo(() => {
    if (!sample || !format || !facts) return null;
    const reader = readerOf(format, facts.timeframe);
    try {
      reader.feed(new TextEncoder().encode(sample.text));
      return { parsed: reader.finish(), problem: "" };
    } catch (problem) {
      return { parsed: null, problem: messageOf(problem) };
    }
  }, [sample, format, facts]);

  const start = async (): Promise<void> => {
    if (!sample || !format || !facts) return;
    const id = crypto.randomUUID().slice(0, 13);
    const { timeframe, ...instrument } = facts;
    const request: ImportRequest = {
      instrument: { ...instrument, name: facts.symbol, class: "other", note: `Imported from ${sample.file.name}.` },
      format,
      timeframe,
    };
    setProgress({ id, done: 0, total: sample.file.size });
    setError(null);
    await importBars.run({ id, spec: request }, sample.file);
    setProgress(null);
  };

  return (
    <Modal title="Import bars" size="wide" onClose={onClose}>
      {(error ?? importBars.error) ? <Failure error={error ?? importBars.error} /> : null}
      {report ? (
        <ImportedReport report={report} onClose={onClose} />
      ) : (
        <CheckedForm className="flex flex-col gap-3" onSubmit={() => void start()}>
          <label className="flex items-center gap-3">
            <span className="text-soft">File</span>
            <input
              type="file"
              accept=".csv,.txt,.tsv,.json,.jsonl,.ndjson,.parquet,.gz,.zip,text/csv,application/json"
              aria-label="File of bars"
              onChange={(event) => void pick(event.target.files?.[0])}
            />
          </label>
          {sample && format && facts && preview ? (
            <>
              <ImportForm
                key={sample.id}
                rows={sample.rows}
                format={format}
                facts={facts}
                onFormat={change}
                onFacts={(next) => setFacts(next.symbol === facts.symbol ? next : asKnown(next, markets))}
              />
              <ImportQuestions questions={open} onAnswer={({ about }, layout) => change({ ...format, ...layout } as CsvLayout, [about])} />
              <Preview preview={preview} />
              <div className="flex items-center justify-end gap-3">
                {progress ? (
                  <div className="flex-1 text-[13px] text-soft" role="status">
                    {number(progress.done / 1e6, 1)} of {number(progress.total / 1e6, 1)} MB
                    <Progress done={progress.done} total={progress.total} label="Import" />
                  </div>
                ) : null}
                <Button onClick={onClose}>Cancel</Button>
                <Button
                  type="submit"
                  variant="primary"
                  disabled={
                    progress !== null ||
                    !preview.parsed ||
                    preview.parsed.spacing !== null ||
                    open.length > 0 ||
                    preview.parsed.columns.time.length === 0 ||
                    facts.symbol === "" ||
                    facts.currency === ""
                  }
                >
                  Import
                </Button>
              </div>
            </>
          ) : (
            <p className="text-soft">
              CSV, JSON (an array, or an object a line) or Parquet, plain or packed as gzip or zip. Of each bar time, open, high, low,
              close, and volume and spread where there are any; or ticks, time with a price, or with bid and ask, which become bars of a
              minute. Columns, date format, timeframe and tick size are guessed; you can correct them before anything is imported.
            </p>
          )}
        </CheckedForm>
      )}
    </Modal>
  );
}

function Preview({ preview }: { readonly preview: { readonly parsed: ParsedBars | null; readonly problem: string } }) {
  const { parsed, problem } = preview;
  if (!parsed) return <p className="text-loss">{problem}</p>;
  const { columns, rejected, problems, spacing } = parsed;
  const first = columns.time[0];
  return (
    <p role="status" className="border-accent border-l-3 bg-accent-wash px-2.5 py-1.5">
      {first === undefined
        ? "No line reads as a bar with these columns. "
        : `The first bar opens ${new Date(first).toISOString().slice(0, 16).replace("T", " ")} UTC at ${columns.open[0]}, high ${columns.high[0]}, low ${columns.low[0]}, close ${columns.close[0]}. `}
      {spacing ? <span className="text-loss">{`Line ${spacing.line}: ${spacing.text}. `}</span> : null}
      {rejected > 0 && problems[0] ? <span className="text-loss">{`Line ${problems[0].line}: ${problems[0].text}.`}</span> : null}
    </p>
  );
}
