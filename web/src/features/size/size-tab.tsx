/** From the drawdown of a run to what to trade: balance for each step of size, the least account, the size on this one. */
import type { RunEvidence } from "@plan-tester/contract";
import { drawdownOf, type Size, type SizeQuestion, shareBeyond, sizeSteps, unitsOn } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { currencyWord } from "../../data/markets.ts";
import { askWorker } from "../../lib/ask-worker.ts";
import { money, number, percent, units } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Button } from "../../ui/button.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import type { EvidenceData } from "../run-view/view.ts";
import { FALL_WORDS, FALLS, type FallKind, type Falls, type FallsQuestion, fixedRate, marginPerUnit } from "./falls.ts";
import { SizeActs } from "./size-acts.tsx";
import { SizeMeaning } from "./size-meaning.tsx";
import { Terms, type Wanted } from "./size-terms.tsx";

export interface SizeTabProps {
  readonly run: RunEvidence;
  readonly data: EvidenceData | null;
  readonly currency: string;
  /** Runs the plan again with entries of this size; left out where the run is not the draft's. */
  readonly onSize?: (size: Size) => void;
}

const FIRST: Wanted = { tolerated: 20, allowance: 0, fall: "days 95", account: null };

const unitsWords = (size: number): string => `${units(size)} ${size === 1 ? "unit" : "units"}`;
const stepWords = (step: number): string => (step === 1 ? "unit" : unitsWords(step));

export function SizeTab({ run, data, currency, onSize }: SizeTabProps) {
  const [wanted, setWanted] = useKept<Wanted>(`size ${run.planId}`, FIRST);
  if (!data) return <Loading what="bars" />;
  if (run.trades.length < 2) return <p className="p-3 text-soft">At least two closed trades are needed to size by.</p>;
  if (data.source.instruments.length > 1)
    return (
      <p className="p-3 text-soft">
        This run trades several instruments: a unit of one is not a unit of another. Size each on its own run.
      </p>
    );
  return (
    <div className="flex flex-col gap-3 p-3">
      <Terms {...{ wanted, currency }} account={wanted.account ?? run.settings.cash} onChange={setWanted} />
      <Drawn {...{ run, data, currency, wanted }} onFall={(fall) => setWanted({ ...wanted, fall })} {...(onSize && { onSize })} />
    </div>
  );
}

interface SizedProps extends Omit<SizeTabProps, "data"> {
  readonly data: EvidenceData;
  readonly wanted: Wanted;
  readonly onFall: (fall: FallKind) => void;
}

/** What the account is to be ready for, from a worker. */
function Drawn(props: SizedProps) {
  const { run, data } = props;
  const question = (): FallsQuestion => ({
    ...{ trades: run.trades, bars: data.bars, equity: data.equity },
    ...{ cash: run.settings.cash, maxDrawdown: run.figures.maxDrawdown ?? 0 },
  });
  const falls = useQuery({
    queryKey: ["runs", run.id, "falls", run.trades.length],
    queryFn: () => askWorker<Falls>(() => new Worker(new URL("./size-worker.ts", import.meta.url), { type: "module" }), question()),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    retry: false,
  });
  if (falls.error) return <Failure error={falls.error} />;
  if (!falls.data) return <Loading what="draws of the days" />;
  return <Sized {...props} falls={falls.data} />;
}

function Sized({ run, data, currency, wanted, falls, onFall, onSize }: SizedProps & { readonly falls: Falls }) {
  const { bars, equity, source } = data;
  const { cash, conversions, margin } = run.settings;
  const instrument = source.instruments[0]!;
  const { sizes } = falls;
  const account = wanted.account ?? cash;
  const word = currencyWord(currency);
  const [price, rate] = [bars.close[equity.length - 1] ?? 0, fixedRate(instrument, currency, conversions)];
  const held = marginPerUnit(margin, instrument, price, rate);
  const questionOf = (drawdown: number): SizeQuestion => ({
    ...{ instrument, base: sizes.most, drawdown, tolerated: wanted.tolerated, allowance: wanted.allowance },
    marginPerUnit: held ?? 0,
  });
  if (sizes.least !== sizes.most)
    return (
      <div className="flex flex-col items-start gap-2">
        <Achieved {...{ run, wanted }} />
        <p>
          Entries were of {units(sizes.least)} to {units(sizes.most)} units: what one unit falls can't be told from this run. Run it with
          entries of one size.
        </p>
        {onSize ? (
          <Button variant="primary" onClick={() => onSize({ by: "units", value: instrument.minQuantity })}>
            Run it with {unitsWords(instrument.minQuantity)} each
          </Button>
        ) : null}
      </div>
    );
  const rows = FALLS.map((kind) => {
    const fall = falls.money[kind];
    if (fall === null || fall <= 0) return { kind, fall, steps: null, size: 0, ahead: null, chance: null };
    const question = questionOf(fall);
    const steps = sizeSteps(question);
    const size = unitsOn(account, steps, question);
    const ahead = size > 0 ? drawdownOf(size, account, question) : null;
    // At the size of the run's entries, as the draws are.
    const limit = (((wanted.tolerated / 100) * account) / size) * sizes.most;
    return { kind, fall, steps, size, ahead, chance: size > 0 && falls.days ? shareBeyond(falls.days, limit) : null };
  });
  const chosen = rows.find(({ kind }) => kind === wanted.fall)!;
  return (
    <>
      <Achieved {...{ run, wanted }} />
      <table className="w-full max-w-3xl text-[13px] tabular-nums [&_td+td]:pl-3 [&_th+th]:pl-3 [&_th]:align-bottom">
        <caption className="sr-only">What to be ready for, and what it asks for</caption>
        <thead>
          <tr className="border-rule border-b text-left text-soft">
            <th className="py-1 font-normal">To be ready for</th>
            <th className="text-right font-normal">falls at {unitsWords(sizes.most)}</th>
            <th className="text-right font-normal">balance for each {stepWords(instrument.quantityStep)}</th>
            <th className="text-right font-normal">least account</th>
            <th className="text-right font-normal">size on {number(account)}</th>
            <th className="text-right font-normal">would fall</th>
            <th
              className="text-right font-normal"
              title={`Of ${number(falls.days?.draws)} draws of ${number(falls.sessions)} days in blocks`}
            >
              chance of more
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ kind, fall, steps, size, ahead, chance }) => (
            <tr key={kind} className={`border-rule/60 border-b ${kind === wanted.fall ? "font-semibold" : ""}`}>
              <td className="py-1">
                <label className="flex items-center gap-2">
                  <input
                    type="radio"
                    name="fall"
                    className="accent-(--accent)"
                    checked={kind === wanted.fall}
                    disabled={steps === null}
                    onChange={() => onFall(kind)}
                  />
                  {FALL_WORDS[kind]}
                </label>
              </td>
              <td className="text-right">{money(fall)}</td>
              <td className="text-right">{number(steps?.balance)}</td>
              <td className="text-right">{number(steps?.minimum.balance)}</td>
              <td className="text-right">{steps ? (size > 0 ? units(size) : "too small") : number(null)}</td>
              <td className="text-right">{ahead ? percent(ahead.percent / 100) : number(null)}</td>
              <td className="text-right">{chance === null ? number(null) : percent(chance)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {chosen.steps ? (
        <>
          <p className="max-w-3xl">
            With {number(wanted.tolerated)} % tolerated
            {wanted.allowance > 0 ? ` and ${number(wanted.allowance)} % added for a worse future` : ""}, each {stepWords(chosen.steps.step)}{" "}
            asks for {number(chosen.steps.balance)} {word} of balance.{" "}
            {chosen.size > 0
              ? `On ${number(account)} ${word} that is ${unitsWords(chosen.size)}.`
              : `On ${number(account)} ${word} nothing can be traded: the least account is ${number(chosen.steps.minimum.balance)}${chosen.steps.minimum.by === "margin" ? ", by its margin" : ""}.`}
          </p>
          {chosen.size > 0 ? (
            <SizeActs
              {...{ run, onSize }}
              size={chosen.size}
              growing={{ by: "balance step", value: chosen.steps.step, step: chosen.steps.balance }}
              tolerated={wanted.tolerated}
            />
          ) : null}
        </>
      ) : (
        <p>Nothing fell: a size can't be told from that.</p>
      )}
      {chosen.size > 0 ? (
        <SizeMeaning
          {...{ run, account, size: chosen.size, base: sizes.most, step: instrument.quantityStep, tolerated: wanted.tolerated }}
          valuePerUnit={rate === null ? null : price * instrument.pointValue * rate}
          marginPerUnit={held}
        />
      ) : null}
      <p className="max-w-3xl text-[12px] text-soft">
        Of 2,000 draws 95 or 99 % fall no deeper. Resampled trades come in any order, some more than once. Days are drawn in blocks of about
        ten, so that bad stretches stay together (Politis & Romano 1994), with their highs and lows at the closes of bars. Both take sizes
        to be constant. Balances are rounded up, sizes down. The chance of more is that of falling by more than {number(wanted.tolerated)} %
        in {number(falls.sessions)} days drawn in blocks, as many as the run had.
        {held === null ? " Margin is not counted: the rate between the currencies moved." : ""}
      </p>
    </>
  );
}

/** What a run that was sized fell in the end. */
function Achieved({ run, wanted }: { readonly run: RunEvidence; readonly wanted: Wanted }) {
  const size = run.settings.kit?.size;
  const fell = run.figures.maxDrawdownShare;
  if (!size || fell === null || fell === undefined) return null;
  const isKept = fell * 100 <= wanted.tolerated;
  const words =
    size.by === "balance step" ? `${unitsWords(size.value)} for every ${number(size.step)} of balance` : `${units(size.value)} ${size.by}`;
  return (
    <p role="status" className={`border-l-3 px-2.5 py-1.5 ${isKept ? "border-gain bg-sunk" : "border-loss bg-loss-wash"}`}>
      This run was sized by {words}: it fell {percent(fell)} at worst, {isKept ? "within" : "more than"} the {number(wanted.tolerated)} %
      tolerated.
    </p>
  );
}
