/** What the chosen size means, in figures with two sentences and their source each. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { askWorker } from "../../lib/ask-worker.ts";
import { number, percent, units } from "../../lib/format.ts";
import { useSettled } from "../../lib/use-settled.ts";
import { NumberInput } from "../../ui/number-field.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import type { Meaning, MeaningQuestion } from "./meaning.ts";

export interface SizeMeaningProps {
  readonly run: RunEvidence;
  /** Units that are asked about, and those of the run's entries. */
  readonly size: number;
  readonly base: number;
  readonly step: number;
  readonly account: number;
  /** Percent of the account. */
  readonly tolerated: number;
  /** Value of a unit, and margin for it, account money; null where it can't be told. */
  readonly valuePerUnit: number | null;
  readonly marginPerUnit: number | null;
}

const FIRST_AHEAD = 100;

export function SizeMeaning(props: SizeMeaningProps) {
  const { run, size, base, account, tolerated } = props;
  const [ahead, setAhead] = useState(FIRST_AHEAD);
  const question: MeaningQuestion = {
    trades: run.trades,
    ...{ account, factor: size / base, limit: (tolerated / 100) * account, ahead: useSettled(ahead) },
  };
  const { trades: _trades, ...terms } = question;
  const meaning = useQuery({
    queryKey: ["runs", run.id, "size meaning", terms, run.trades.length],
    queryFn: () => askWorker<Meaning>(() => new Worker(new URL("./meaning-worker.ts", import.meta.url), { type: "module" }), question),
    ...{ staleTime: Number.POSITIVE_INFINITY, gcTime: 120_000, retry: false },
    placeholderData: (before) => before,
  });
  if (meaning.error) return <Failure error={meaning.error} />;
  if (!meaning.data) return <Loading what="sequences of trades" />;
  return <Rows {...props} meaning={meaning.data} ahead={ahead} onAhead={setAhead} />;
}

interface RowsProps extends SizeMeaningProps {
  readonly meaning: Meaning;
  readonly ahead: number;
  readonly onAhead: (ahead: number) => void;
}

function Rows({ meaning, ahead, onAhead, ...props }: RowsProps) {
  const { size, base, step, account, tolerated, valuePerUnit, marginPerUnit } = props;
  const { growth, falls, risk, ofYear } = meaning;
  const grown = growth ? Math.floor((growth.factor * base) / step + 1e-9) * step : 0;
  const share = (money: number | null): string => (money === null ? "–" : percent(((size / base) * money) / account));
  const value = valuePerUnit === null ? null : (valuePerUnit * size) / account;
  return (
    <section className="max-w-3xl" aria-label="What that size means">
      <h3 className="pb-1 font-semibold text-[14px]">
        What {units(size)} {size === 1 ? "unit" : "units"} mean on this account
      </h3>
      <dl>
        <Row
          label={
            <span className="flex flex-wrap items-center gap-1.5">
              Falls by {number(tolerated)} % within
              <NumberInput
                aria-label="Trades ahead"
                className="w-16 text-right"
                whole
                min={1}
                max={5000}
                value={ahead}
                onChange={onAhead}
              />
              trades
            </span>
          }
          value={percent(meaning.ahead?.fall ?? null)}
        >
          Of {number(meaning.ahead?.draws)} sequences drawn from the run’s trades, that many fall by as much from a high;{" "}
          {percent(meaning.ahead?.ruin ?? null)} lose the whole account. Trades are drawn one by one, with replacement (Efron 1979), so
          losses that come in clusters are not in it: see the chance of more above.
        </Row>
        <Row label={`The same within a year (${number(ofYear)} trades)`} value={percent(meaning.year?.fall ?? null)}>
          As many trades as the run makes in a year at its pace; {percent(meaning.year?.ruin ?? null)} lose the whole account. It grows with
          time: a fall that is unlikely in a year is likely in ten.
        </Row>
        <Row
          label="Size of the greatest growth"
          value={growth === null ? "no limit" : growth.factor === 0 ? "none" : `${units(grown)} units`}
        >
          {growth === null
            ? "No trade of the run lost, so no size was too large: that says more of the run than of the size."
            : growth.factor === 0
              ? "The run’s trades lose on average: an account grows the most by not trading them."
              : `Where sizes follow equity the account grows the fastest at this size (Kelly 1956; Vince 1990); half of it brings three quarters of the growth, and forgives an edge that was overrated. In the middle of the draws it falls by ${percent(falls!.whole, 0)} at the whole, ${percent(falls!.half, 0)} at the half, ${percent(falls!.quarter, 0)} at the quarter, ${percent(falls!.here, 0)} at ${units(size)} units.`}
        </Row>
        <Row label="Risk of an entry to its stop" value={share(risk.middle)}>
          {risk.middle === null
            ? "No entry had a stop: what one may lose has no limit but the account."
            : `Of the account, for the middle one of the entries; the largest puts ${share(risk.largest)} at risk. ${risk.without > 0 ? `${percent(risk.without, 0)} of the trades had no stop, and gaps go through any.` : "A gap goes through any stop."}`}
        </Row>
        <Row label="Position against the account" value={value === null ? "–" : percent(value, 0)}>
          One entry of that size at the last price
          {value === null ? ": the rate between the currencies moved" : `, a leverage of ${number(value, 1)}`}.{" "}
          {marginPerUnit === null
            ? "Its margin can’t be told."
            : marginPerUnit === 0
              ? "The run’s account asks for no margin."
              : `Its margin ties up ${percent((marginPerUnit * size) / account)} of the account.`}
        </Row>
      </dl>
    </section>
  );
}

function Row({ label, value, children }: { readonly label: ReactNode; readonly value: string; readonly children: ReactNode }) {
  return (
    <div className="grid grid-cols-[16rem_6rem_1fr] items-baseline gap-x-3 border-rule/60 border-b py-1.5 max-[899px]:grid-cols-[1fr_auto]">
      <dt>{label}</dt>
      <dd className="text-right font-semibold tabular-nums">{value}</dd>
      <dd className="text-[12px] text-soft max-[899px]:col-span-2">{children}</dd>
    </div>
  );
}
