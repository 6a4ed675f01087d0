/** Imports files of bars: pick them, see how they were read, correct it, choose where they differ, get a report by line. */
import type { ImportMapping, Market } from "@plan-tester/contract";
import { barFacts, type CsvLayout, type LayoutQuestion, type ParsedBars, readerOf } from "@plan-tester/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Failure } from "../../ui/states.tsx";
import { type ImportFacts, ImportForm } from "./import-form.tsx";
import { ImportPlace } from "./import-place.tsx";
import { ImportProgressBar } from "./import-progress.tsx";
import { answeredBy, ImportQuestions } from "./import-questions.tsx";
import { type ImportSample, readSample, readSamples } from "./import-sample.ts";
import { ImportedReport } from "./imported-report.tsx";
import { OverlapQuestion } from "./overlap-question.tsx";
import { useImport } from "./use-import.ts";

/** What an import asks of an instrument that there is already is as it was. */
function asKnown(facts: ImportFacts, markets: readonly Market[]): ImportFacts {
  const known = marketOf(markets, facts.symbol);
  if (known?.origin !== "import") return facts;
  const { currency, tickSize, pointValue, minQuantity, quantityStep } = known.instrument;
  return { ...facts, currency, tickSize, pointValue, minQuantity, quantityStep };
}

/** Files that look like one that was read before are read like that one; their symbol is their own name, where it is an instrument's. */
function asBefore(facts: ImportFacts, { format: _format, symbol, ...before }: ImportMapping, markets: readonly Market[]): ImportFacts {
  return { ...before, symbol: marketOf(markets, facts.symbol) ? facts.symbol : symbol };
}

export function ImportDialog({ onClose }: { readonly onClose: () => void }) {
  const [sample, setSample] = useState<ImportSample | null>(null);
  const [files, setFiles] = useState<readonly File[]>([]);
  const [format, setFormat] = useState<CsvLayout | null>(null);
  const [facts, setFacts] = useState<ImportFacts | null>(null);
  const [mode, setMode] = useState<"replace" | "add">("add");
  const [isRemembered, setRemembered] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const [answered, setAnswered] = useState<readonly LayoutQuestion["about"][]>([]);
  const client = useQueryClient();
  const { data: markets = [] } = useQuery(queries.markets());
  const upload = useImport();

  const pick = async (picked: readonly File[]): Promise<void> => {
    if (picked.length === 0) return;
    setError(null);
    upload.forget();
    try {
      const [read, known] = await Promise.all([readSamples(picked), client.ensureQueryData(queries.markets())]);
      const { mapping } = await client.fetchQuery(queries.importMapping(read.sample.shape));
      setSample(read.sample);
      setFiles(read.files);
      setRemembered(mapping !== null);
      setFormat(mapping?.format ?? read.format);
      setFacts(asKnown(mapping ? asBefore(read.facts, mapping, known) : read.facts, known));
      setAnswered(mapping ? read.sample.questions.map(({ about }) => about) : []);
    } catch (problem) {
      setError(problem);
    }
  };

  /** As the file's own lines tell it. */
  const readAnew = async (): Promise<void> => {
    if (!sample) return;
    const read = await readSample(sample.file);
    setRemembered(false);
    setSample(read.sample);
    setFormat(read.format);
    setFacts(asKnown(read.facts, markets));
    setAnswered([]);
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
    try {
      const reader = readerOf(format, facts.timeframe);
      reader.feed(new TextEncoder().encode(sample.text));
      return { parsed: reader.finish(), problem: "" };
    } catch (problem) {
      return { parsed: null, problem: messageOf(problem) };
    }
  }, [sample, format, facts]);

  const start = async (): Promise<void> => {
    if (!sample || !format || !facts) return;
    setError(null);
    const { timeframe, ...instrument } = facts;
    const note = `Imported from ${files[0]!.name}${files.length > 1 ? ` and ${files.length - 1} more` : ""}.`;
    await upload.start(files, {
      ...{ instrument: { ...instrument, name: facts.symbol, class: "other", note }, format, timeframe, shape: sample.shape },
      mode: marketOf(markets, facts.symbol) ? mode : "replace",
    });
  };

  const { asked, progress, result } = upload;
  const failure = error ?? upload.error;
  return (
    <Modal title="Import bars" size="wide" onClose={onClose}>
      {failure ? <Failure error={failure} /> : null}
      {asked ? (
        <OverlapQuestion
          symbol={facts?.symbol ?? ""}
          file={asked.file.name}
          overlap={asked.overlap}
          onAnswer={(choice) => void upload.answer(choice)}
          onCancel={upload.forget}
        />
      ) : result && !progress ? (
        <ImportedReport report={result} onClose={onClose} />
      ) : (
        <CheckedForm className="flex flex-col gap-3" onSubmit={() => void start()}>
          <label className="flex items-center gap-3">
            <span className="text-soft">File</span>
            <input
              type="file"
              multiple
              accept=".csv,.txt,.tsv,.json,.jsonl,.ndjson,.parquet,.gz,.zip,text/csv,application/json"
              aria-label="File of bars"
              onChange={(event) => void pick([...(event.target.files ?? [])])}
            />
          </label>
          {sample && format && facts && preview ? (
            <>
              {isRemembered ? (
                <p className="text-[13px] text-soft">
                  Read as the last file with these columns was.{" "}
                  <button type="button" className="text-accent hover:underline" onClick={() => void readAnew()}>
                    Read it anew
                  </button>
                </p>
              ) : null}
              <ImportForm
                key={sample.id}
                rows={sample.rows}
                format={format}
                facts={facts}
                onFormat={change}
                onFacts={(next) => setFacts(next.symbol === facts.symbol ? next : asKnown(next, markets))}
              />
              <ImportQuestions questions={open} onAnswer={({ about }, layout) => change({ ...format, ...layout } as CsvLayout, [about])} />
              <ImportPlace market={marketOf(markets, facts.symbol)} mode={mode} onMode={setMode} />
              <Preview preview={preview} />
              <div className="flex items-center justify-end gap-3">
                {progress ? <ImportProgressBar progress={progress} /> : null}
                <Button onClick={progress ? upload.stop : onClose}>{progress ? "Stop" : "Cancel"}</Button>
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
                  {files.length > 1 ? `Import ${files.length} files` : "Import"}
                </Button>
              </div>
            </>
          ) : (
            <p className="text-soft">
              CSV, JSON (an array, or an object a line) or Parquet, plain or packed as gzip or zip; several files of the same columns at
              once. Of each bar time, open, high, low, close, and volume and spread where there are any; or ticks, time with a price, or
              with bid and ask, which become bars of a minute. Columns, date format, timeframe and tick size are guessed; you can correct
              them before anything is imported.
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
