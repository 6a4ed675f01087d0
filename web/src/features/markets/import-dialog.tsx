/** Imports a file of bars: pick the file, see how it was read, correct it, get a report by line. */
import type { ImportReport, ImportRequest } from "@plan-tester/contract";
import { BarText, barFacts, CsvBarReader, type CsvLayout, type LayoutQuestion, samplePieces, surveyPieces } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { messageOf } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, dayAt, duration, number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Progress } from "../../ui/progress.tsx";
import { Failure } from "../../ui/states.tsx";
import { type ImportFacts, ImportForm } from "./import-form.tsx";
import { answeredBy, ImportQuestions } from "./import-questions.tsx";
import { QualityNote } from "./quality-view.tsx";

const NEWLINE = 10;
const PLAIN_FACTS = { currency: "XSC", pointValue: 1, minQuantity: 1, quantityStep: 1 };

/** So much of a file that is packed, or JSON, is unpacked to look at. */
const HEAD_BYTES = 64 * 1024;

/** A plain text is looked into in several places; of anything else only the beginning is known without reading it all. */
async function piecesOf(file: File): Promise<Uint8Array[]> {
  const text = new BarText();
  const head: Uint8Array[] = [];
  let bytes = 0;
  const reader = file.stream().getReader();
  for (let part = await reader.read(); bytes < HEAD_BYTES; part = await reader.read()) {
    const made = part.done ? text.finish() : text.feed(part.value);
    head.push(...made);
    bytes += made.reduce((sum, { length }) => sum + length, 0);
    if (part.done) break;
    if (bytes > 0 && text.isPlain) {
      await reader.cancel();
      const pieces = await Promise.all(samplePieces(file.size).map(({ start, end }) => file.slice(start, end).arrayBuffer()));
      return pieces.map((piece) => new Uint8Array(piece));
    }
  }
  await reader.cancel();
  const joined = new Uint8Array(await new Blob(head as BlobPart[]).arrayBuffer());
  const end = Math.min(joined.length, HEAD_BYTES);
  // A line that is cut is none.
  return [joined.subarray(0, joined.lastIndexOf(NEWLINE, end) + 1)];
}

interface Sample {
  /** Another file, or the same again, begins with fields of its own. */
  readonly id: string;
  readonly file: File;
  readonly rows: readonly (readonly string[])[];
  readonly text: string;
  readonly questions: readonly LayoutQuestion[];
}

/** What the file's own lines tell of it. */
async function readSample(file: File): Promise<{ sample: Sample; format: CsvLayout; facts: ImportFacts }> {
  const { layout, questions, rows, timeframe, tickSize, head } = surveyPieces(await piecesOf(file), "UTC");
  const symbol = file.name
    .replace(/(\.(csv|json|jsonl|ndjson|txt))?\.[^.]*$/i, "")
    .replace(/[^A-Za-z0-9]+/g, "-")
    .slice(0, 12)
    .toUpperCase();
  return {
    sample: { id: crypto.randomUUID(), file, rows: rows.slice(0, 9), text: head, questions },
    format: layout,
    facts: { ...PLAIN_FACTS, symbol: symbol || "MINE", timeframe, tickSize },
  };
}

export function ImportDialog({ onClose }: { readonly onClose: () => void }) {
  const [sample, setSample] = useState<Sample | null>(null);
  const [format, setFormat] = useState<CsvLayout | null>(null);
  const [facts, setFacts] = useState<ImportFacts | null>(null);
  const [progress, setProgress] = useState<{ id: string; done: number; total: number } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [answered, setAnswered] = useState<readonly LayoutQuestion["about"][]>([]);
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
      const read = await readSample(file);
      setSample(read.sample);
      setFormat(read.format);
      setFacts(read.facts);
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
    const reader = new CsvBarReader(format, facts.timeframe);
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
        <Report report={report} onClose={onClose} />
      ) : (
        <CheckedForm className="flex flex-col gap-3" onSubmit={() => void start()}>
          <label className="flex items-center gap-3">
            <span className="text-soft">File</span>
            <input
              type="file"
              accept=".csv,.txt,.tsv,.json,.jsonl,.ndjson,.gz,.zip,text/csv,application/json"
              aria-label="File of bars"
              onChange={(event) => void pick(event.target.files?.[0])}
            />
          </label>
          {sample && format && facts && preview ? (
            <>
              <ImportForm key={sample.id} rows={sample.rows} format={format} facts={facts} onFormat={change} onFacts={setFacts} />
              <ImportQuestions questions={open} onAnswer={({ about }, layout) => change({ ...format, ...layout }, [about])} />
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
              CSV, or JSON (an array, or a bar a line), plain or packed as gzip or zip. Of each bar time, open, high, low, close, and volume
              and spread where there are any. Columns, date format, timeframe and tick size are guessed; you can correct them before
              anything is imported.
            </p>
          )}
        </CheckedForm>
      )}
    </Modal>
  );
}

function Preview({
  preview,
}: {
  readonly preview: { readonly parsed: ReturnType<CsvBarReader["finish"]> | null; readonly problem: string };
}) {
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

function Report({ report, onClose }: { readonly report: ImportReport; readonly onClose: () => void }) {
  const navigate = useNavigate();
  const { data: markets = [] } = useQuery(queries.markets());
  const isAssumed = marketOf(markets, report.symbol)?.instrument.calendar.isAssumed === true;
  const page = `/markets/${encodeURIComponent(report.symbol)}`;
  const look = (): void => {
    onClose();
    navigate(`${page}?as=quality`);
  };
  return (
    <div className="flex flex-col gap-3">
      <p>
        <strong>{number(report.bars)} bars</strong> of {report.symbol} from {dayAt(report.firstMs, "UTC")} to {dayAt(report.lastMs, "UTC")},
        in {duration(report.elapsedMs)}.{" "}
        {report.rejected === 0
          ? "Every line was a valid bar."
          : `${number(report.rejected)} of ${number(report.rows)} lines were left out.`}
        {report.repairs.kept > 0 ? ` ${count(report.repairs.kept, "repair")} of before lie over them.` : ""}
        {report.repairs.undone > 0 ? ` ${count(report.repairs.undone, "repair")} of before did not fit these bars, and were undone.` : ""}
        {report.outsideSessions > 0 ? ` ${number(report.outsideSessions)} bars lie outside the sessions of the calendar.` : ""}
      </p>
      <p>
        Doubtful about them: <QualityNote symbol={report.symbol} onOpen={look} />.
        {isAssumed ? " When it trades is not known yet: Change facts, on its page, finds the sessions in the bars." : ""}
      </p>
      {report.problems.length > 0 ? (
        <ul className="max-h-64 overflow-auto border-rule border-y text-[13px]">
          {report.problems.map(({ line, text }) => (
            <li key={line} className="border-rule/60 border-b px-2 py-0.5">
              <span className="inline-block w-24 text-soft">Line {number(line)}</span> {text}
            </li>
          ))}
        </ul>
      ) : null}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Link
          to={page}
          onClick={onClose}
          className="inline-flex h-7 items-center rounded bg-accent px-2.5 font-semibold text-[13px] text-on-accent"
        >
          Open {report.symbol}
        </Link>
      </div>
    </div>
  );
}
