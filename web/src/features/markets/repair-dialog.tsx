/** A doubtful stretch, made good by a layer over the bars: which, why, and what it does to them, before anything is changed. */
import {
  type BarColumns,
  type Finding,
  type Instrument,
  MINUTE_MS,
  proposedRepairs,
  type Repair,
  repaired,
  repairWords,
} from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, priceText, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Failure, Loading } from "../../ui/states.tsx";

/** Looked at on each side of the stretch, in minutes; and rows that are shown. */
const AROUND_MS = 30 * MINUTE_MS;
const MOST_MS = 2 * 24 * 60 * MINUTE_MS;
const MOST_ROWS = 12;

export interface RepairDialogProps {
  readonly instrument: Instrument;
  readonly timeframe: string;
  readonly zone: string;
  readonly finding: Finding;
  /** When the bars begin. */
  readonly firstMs: number;
  readonly onClose: () => void;
}

export function RepairDialog({ instrument, timeframe, zone, finding, firstMs, onClose }: RepairDialogProps) {
  const { symbol, tickSize } = instrument;
  const { fromMs, toMs } = finding;
  const bars = useQuery(queries.barsBetween(symbol, timeframe, fromMs - AROUND_MS, Math.min(toMs, fromMs + MOST_MS) + AROUND_MS));
  return (
    <Modal
      title={`Repair ${symbol}: ${finding.kind}`}
      size="wide"
      description={`${timeAt(fromMs, zone)}: ${finding.text}.`}
      onClose={onClose}
    >
      {bars.error ? (
        <Failure error={bars.error} />
      ) : bars.data ? (
        <RepairForm
          instrument={instrument}
          zone={zone}
          finding={finding}
          bars={bars.data.columns as unknown as BarColumns}
          proposed={proposedRepairs(finding, tickSize, firstMs)}
          onClose={onClose}
        />
      ) : (
        <Loading what="the bars" />
      )}
    </Modal>
  );
}

interface RepairFormProps extends Pick<RepairDialogProps, "instrument" | "zone" | "finding" | "onClose"> {
  readonly bars: BarColumns;
  readonly proposed: readonly Repair[];
}

type Correct = Extract<Repair, { readonly kind: "correct" }>;
const PRICES = ["open", "high", "low", "close"] as const;
const FIELDS = [...PRICES, "volume"] as const;

/** The bar that a finding is about, as it is. */
function correctOf(bars: BarColumns, { fromMs }: Finding): Correct | null {
  const i = bars.time.indexOf(fromMs);
  if (i < 0) return null;
  const of = (name: (typeof FIELDS)[number]): number => bars[name][i]!;
  return { kind: "correct", timeMs: fromMs, open: of("open"), high: of("high"), low: of("low"), close: of("close"), volume: of("volume") };
}

function RepairForm({ instrument, zone, finding, bars, proposed, onClose }: RepairFormProps) {
  const { symbol } = instrument;
  const byHand = finding.bars === 1 ? correctOf(bars, finding) : null;
  const offered: readonly Repair[] = byHand ? [...proposed, byHand] : proposed;
  const [chosen, setChosen] = useState(0);
  const [hand, setHand] = useState<Correct | null>(byHand);
  const [reason, setReason] = useState(finding.text);
  const make = useChange("makeRepair", { shows: true });
  const repair = offered[chosen]?.kind === "correct" ? hand : offered[chosen];
  const after = useMemo(() => preview(bars, repair), [bars, repair]);
  if (offered.length === 0)
    return (
      <>
        <p>
          What is not there can't be made good without data. Import the bars that are missing, or leave it: a run says what its trades
          touched.
        </p>
        <div className="flex justify-end pt-3">
          <Button onClick={onClose}>Close</Button>
        </div>
      </>
    );
  const save = async (): Promise<void> => {
    if (repair && (await make.run({ symbol }, { repair, reason }))) onClose();
  };
  return (
    <CheckedForm className="flex flex-col gap-3" onSubmit={() => void save()}>
      {make.error ? <Failure error={make.error} /> : null}
      <fieldset className="flex flex-col gap-1">
        <legend className="sr-only">What to do</legend>
        {offered.map((one, k) => (
          <label key={one.kind} className="flex items-center gap-2">
            <input type="radio" name="repair" checked={chosen === k} onChange={() => setChosen(k)} />
            {one.kind === "correct" ? "The bar as it should be, by hand" : sentence(one)}
          </label>
        ))}
      </fieldset>
      {repair?.kind === "correct" && hand ? (
        <div className="grid grid-cols-5 gap-2">
          {FIELDS.map((name) => (
            <NumberField
              key={name}
              label={name[0]!.toUpperCase() + name.slice(1)}
              value={hand[name]}
              {...(name === "volume" ? { min: 0 } : { above: 0 })}
              onChange={(value) => setHand({ ...hand, [name]: value })}
            />
          ))}
        </div>
      ) : null}
      <Preview bars={bars} after={after} zone={zone} decimals={instrument.decimals} />
      <Field label="Why">
        {(id) => (
          <TextInput
            id={id}
            value={reason}
            maxLength={400}
            aria-invalid={reason.trim() === ""}
            onChange={(event) => setReason(event.target.value)}
          />
        )}
      </Field>
      <p className="text-[13px] text-soft">
        The bars that were imported stay as they are: this is a layer over them, which can be undone. Runs of before keep the bars they were
        made on.
      </p>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" variant="primary" disabled={make.isRunning || typeof after === "string"}>
          Repair
        </Button>
      </div>
    </CheckedForm>
  );
}

const sentence = (repair: Repair): string => {
  const words = repairWords(repair);
  return words[0]!.toUpperCase() + words.slice(1);
};

/** The bars with a repair, or why they can't be. */
function preview(bars: BarColumns, repair: Repair | null | undefined): BarColumns | string {
  if (!repair) return bars;
  try {
    return repaired(bars, [repair]);
  } catch (problem) {
    return messageOf(problem);
  }
}

interface PreviewProps {
  readonly bars: BarColumns;
  readonly after: BarColumns | string;
  readonly zone: string;
  readonly decimals: number;
}

function changedRows(bars: BarColumns, after: BarColumns, decimals: number) {
  const words = (columns: BarColumns, i: number): string =>
    `${PRICES.map((name) => priceText(columns[name][i], decimals)).join(" ")} · ${columns.volume[i]}`;
  const places = new Map(Array.from(after.time, (time, i) => [time, i]));
  return Array.from(bars.time, (time, i) => {
    const now = places.get(time);
    return { time, was: words(bars, i), is: now === undefined ? "not there" : words(after, now) };
  }).filter(({ was, is }) => was !== is);
}

/** What becomes of each bar that is changed. */
function Preview({ bars, after, zone, decimals }: PreviewProps) {
  const rows = useMemo(() => (typeof after === "string" ? [] : changedRows(bars, after, decimals)), [bars, after, decimals]);
  if (typeof after === "string") return <p className="text-loss">{after}</p>;
  return (
    <div className="rounded border border-rule">
      <table className="w-full text-[12px]">
        <caption className="px-2 py-1 text-left text-soft">
          {count(rows.length, "bar")} of those near it {rows.length === 1 ? "is" : "are"} changed: open, high, low, close · volume
        </caption>
        <tbody className="font-mono">
          {rows.slice(0, MOST_ROWS).map(({ time, was, is }) => (
            <tr key={time} className="border-rule/60 border-t">
              <td className="px-2 py-0.5">{timeAt(time, zone)}</td>
              <td className="px-2 text-soft line-through">{was}</td>
              <td className="px-2">{is}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > MOST_ROWS ? (
        <p className="px-2 py-1 text-[12px] text-soft">and {count(rows.length - MOST_ROWS, "more bar", "more bars")}</p>
      ) : null}
    </div>
  );
}
