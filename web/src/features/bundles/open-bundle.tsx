/** A bundle is opened: how far its runs have been made again, then what became of each thing. */
import type { BundleReport } from "@plan-tester/contract";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { useServerEvents } from "../../data/events.ts";
import { useChange } from "../../data/use-change.ts";
import { count, duration } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import { tdText, th } from "../../ui/page.tsx";
import { Progress } from "../../ui/progress.tsx";
import { Failure } from "../../ui/states.tsx";

export function OpenBundle({ file, onClose }: { readonly file: File; readonly onClose: () => void }) {
  const open = useChange("openBundle", { shows: true });
  const [id] = useState(() => crypto.randomUUID().slice(0, 12));
  const [progress, setProgress] = useState<{ readonly done: number; readonly total: number } | null>(null);
  const stop = useChange("stopBundle");
  const [isStopping, setStopping] = useState(false);
  const firstRun = useRef(0);
  useServerEvents((event) => {
    if (event.type !== "import-progress" || event.id !== id) return;
    if (firstRun.current === 0) firstRun.current = Date.now();
    setProgress(event);
  });
  const begun = useRef(false);
  const { run } = open;
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    void run({ id }, file);
  }, [run, id, file]);
  return (
    <Modal title={open.reply ? `Bundle: ${open.reply.title}` : `Open ${file.name}`} onClose={onClose} size="wide">
      {open.isRunning ? (
        <div className="flex flex-col gap-2">
          <p role="status">{progress ? progressWords(progress, Date.now() - firstRun.current) : "The file is read and checked …"}</p>
          {progress ? (
            <>
              <Progress done={progress.done} total={progress.total} label="Runs made again" />
              <div className="flex items-center justify-end gap-3">
                <span className="text-[13px] text-soft">What is taken in stays, the run at work is finished.</span>
                <Button
                  disabled={stop.isRunning || isStopping}
                  onClick={() => void stop.run({ id }).then((done) => setStopping(done !== null))}
                >
                  {isStopping ? "Stopping …" : "Stop"}
                </Button>
              </div>
            </>
          ) : null}
        </div>
      ) : null}
      {open.error ? (
        <div className="flex flex-col gap-3">
          <Failure error={open.error} />
          <p className="text-soft">Nothing was changed.</p>
        </div>
      ) : null}
      {open.reply ? <Outcome report={open.reply} onClose={onClose} /> : null}
    </Modal>
  );
}

/** Which run is at work, and how long the rest takes at the pace so far. */
export function progressWords({ done, total }: { readonly done: number; readonly total: number }, tookMs: number): string {
  const left = done > 0 ? ` About ${duration((tookMs / done) * (total - done))} left.` : "";
  return `Run ${done + 1} of ${total} is made again …${left}`;
}

const RUN_WORDS: Readonly<Record<BundleReport["runs"][number]["outcome"], string>> = {
  same: "the same, to the last bit",
  differs: "differs",
  "not made": "not made",
};

/** One sentence: whether what it came with holds here. */
export function verdictOf({ runs }: BundleReport): string {
  if (runs.length === 0) return "It held no runs.";
  const same = runs.filter(({ outcome }) => outcome === "same").length;
  if (same === runs.length)
    return `${runs.length === 1 ? "Its run was" : `All ${runs.length} runs were`} made again here and came to the same, to the last bit.`;
  return `${same} of ${count(runs.length, "run")} came to the same here, to the last bit; what became of the others is said below.`;
}

function Outcome({ report, onClose }: { readonly report: BundleReport; readonly onClose: () => void }) {
  const { note, plans, kits, instruments, runs } = report;
  const isWhole = runs.every(({ outcome }) => outcome === "same");
  const rows: readonly (readonly [key: string, kind: string, name: React.ReactNode, outcome: string, isDoubtful: boolean])[] = [
    ...runs.map(({ id, name, outcome, text }, k) =>
      row(
        `run ${k}`,
        "Run",
        id ? (
          <Link to={`/runs/${id}`} onClick={onClose} className="text-accent hover:underline">
            {name}
          </Link>
        ) : (
          name
        ),
        outcome === "same" ? RUN_WORDS.same : `${RUN_WORDS[outcome]}: ${text}`,
        outcome !== "same",
      ),
    ),
    ...plans.map(({ id, title }) =>
      row(
        id,
        "Plan",
        <Link to={`/plans/${id}`} onClick={onClose} className="text-accent hover:underline">
          {title}
        </Link>,
        "added",
        false,
      ),
    ),
    ...instruments.map(({ symbol, outcome }) =>
      row(symbol, "Instrument", symbol, outcome, outcome !== "added" && outcome !== "there already"),
    ),
    ...kits.map(({ name, outcome }) => row(`kit ${name}`, "Exit kit", name, outcome, outcome.startsWith("another"))),
  ];
  return (
    <div className="flex flex-col gap-3">
      <p className={`text-[14px] ${isWhole ? "" : "border-warn border-l-3 bg-warn-wash px-2.5 py-1.5"}`} role="status">
        {verdictOf(report)}
      </p>
      {note ? <p className="whitespace-pre-wrap text-soft">{note}</p> : null}
      <table className="w-full">
        <thead>
          <tr>
            {["What", "Name", "Outcome"].map((label) => (
              <th key={label} className={th}>
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([key, kind, name, outcome, isDoubtful]) => (
            <tr key={key}>
              <td className={`${tdText} text-soft`}>{kind}</td>
              <td className={tdText}>{name}</td>
              <td className={`${tdText} ${isDoubtful ? "text-warn" : ""}`}>{outcome}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="flex justify-end">
        <Button variant="primary" onClick={onClose}>
          Close
        </Button>
      </div>
    </div>
  );
}

const row = (key: string, kind: string, name: React.ReactNode, outcome: string, isDoubtful: boolean) =>
  [key, kind, name, outcome, isDoubtful] as const;
