/** What takes space in the data folder, what of it may go by itself, and what was deleted. */
import type { BinEntry, RetentionRules, StoragePart, StorageReport } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { bytes, count, HERE, number, percent, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { RetentionForm } from "./retention-form.tsx";

const PARTS: Readonly<Record<StoragePart["kind"], readonly [name: string, what: string]>> = {
  bars: ["Bars", "instrument"],
  runs: ["Kept runs", "run"],
  drafts: ["Last draft of each plan", "run"],
  sweeps: ["Sweeps", "sweep"],
  versions: ["Versions of plans", "text"],
  deleted: ["Deleted", "thing"],
};

export function StoragePage() {
  const { data, error } = useQuery(queries.storage());
  return (
    <Page title="Storage">
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="the storage" /> : null}
      {data ? <Report report={data} /> : null}
    </Page>
  );
}

function Report({ report }: { readonly report: StorageReport }) {
  const compact = useChange("compactStorage");
  const setRetention = useChange("setRetention");
  const { fileBytes, emptyBytes, freeBytes, parts, bin, rules } = report;
  const save = (next: RetentionRules): void => void setRetention.run({}, next);
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-6 p-4">
      <section aria-label="What takes space" className="flex flex-col gap-2">
        <p>
          The data folder's file is <strong>{bytes(fileBytes)}</strong> large
          {freeBytes === null ? "." : `; its disk has ${bytes(freeBytes)} free.`}
        </p>
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>What</th>
              <th className={`${th} ${num}`}>How many</th>
              <th className={`${th} ${num}`}>Size</th>
              <th className={`${th} w-2/5`}>Share of the file</th>
            </tr>
          </thead>
          <tbody>
            {parts.map(({ kind, count: many, bytes: size }) => (
              <PartRow key={kind} name={PARTS[kind][0]} many={count(many, PARTS[kind][1])} size={size} of={fileBytes} />
            ))}
            <PartRow name="Empty space" many="" size={emptyBytes} of={fileBytes} />
          </tbody>
        </table>
        <p className="flex items-center gap-3 text-[13px] text-soft">
          <Button disabled={compact.isRunning || emptyBytes === 0} onClick={() => void compact.run()}>
            {compact.isRunning ? "Compacting …" : "Compact the file"}
          </Button>
          Gives the empty part back to the disk. Saving waits meanwhile.
        </p>
      </section>
      <RetentionForm key={JSON.stringify(rules)} rules={rules} isSaving={setRetention.isRunning} onSave={save} />
      <Bin entries={bin} binDays={rules.binDays} />
    </div>
  );
}

interface PartRowProps {
  readonly name: string;
  readonly many: string;
  readonly size: number;
  readonly of: number;
}

function PartRow({ name, many, size, of }: PartRowProps) {
  const share = of > 0 ? size / of : 0;
  return (
    <tr>
      <td className={td}>{name}</td>
      <td className={`${td} ${num} text-soft`}>{many}</td>
      <td className={`${td} ${num}`}>{bytes(size)}</td>
      <td className={td}>
        <div className="flex items-center gap-2">
          <div className="h-2 flex-1 rounded bg-sunk">
            <div className="h-2 rounded bg-accent" style={{ width: `${100 * share}%` }} />
          </div>
          <span className="w-12 text-right text-[13px] text-soft">{percent(share, 0)}</span>
        </div>
      </td>
    </tr>
  );
}

const KIND_WORDS: Readonly<Record<BinEntry["kind"], string>> = {
  plan: "Plan",
  run: "Run",
  sweep: "Sweep",
  "walk-forward": "Walk-forward",
  blend: "Blend",
  market: "Instrument",
  source: "Source of",
};

function Bin({ entries, binDays }: { readonly entries: readonly BinEntry[]; readonly binDays: number }) {
  const restore = useChange("restoreDeleted");
  const emptyBin = useChange("emptyBin");
  const [isAsking, setAsking] = useState(false);
  return (
    <section aria-label="Deleted" className="flex flex-col gap-2">
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">Deleted</h2>
        <Button variant="danger" disabled={entries.length === 0} onClick={() => setAsking(true)}>
          Empty the bin
        </Button>
      </div>
      {entries.length === 0 ? (
        <p className="text-soft">Nothing. What you delete can be brought back from here for {count(binDays, "day")}.</p>
      ) : (
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>What</th>
              <th className={th}>Name</th>
              <th className={th}>Deleted</th>
              <th className={th}>
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {entries.map(({ kind, id, name, deletedMs }) => (
              <tr key={`${kind} ${id}`}>
                <td className={`${td} text-soft`}>{KIND_WORDS[kind]}</td>
                <td className={td}>{name}</td>
                <td className={`${td} text-soft`}>{timeAt(deletedMs, HERE)}</td>
                <td className={`${td} ${num}`}>
                  <Button aria-label={`Bring back ${name}`} onClick={() => void restore.run({}, { kind, id })}>
                    Bring back
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {isAsking ? (
        <Modal
          title="Empty the bin?"
          description={`${number(entries.length)} deleted things go for good.`}
          onClose={() => setAsking(false)}
        >
          <div className="flex justify-end gap-2">
            <Button onClick={() => setAsking(false)}>Cancel</Button>
            <Button
              variant="danger"
              onClick={() => {
                setAsking(false);
                void emptyBin.run();
              }}
            >
              Remove for good
            </Button>
          </div>
        </Modal>
      ) : null}
    </section>
  );
}
