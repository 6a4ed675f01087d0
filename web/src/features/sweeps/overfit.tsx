/** How likely the best of a sweep is the best by chance: cross-validated over every way of halving its days. */
import { mean } from "@plan-tester/core";
import { number, percent } from "../../lib/format.ts";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { useSweepDoubt } from "./use-sweep-doubt.ts";

const BARS = 24;

export interface OverfitProps {
  readonly sweepId: string;
  readonly isDone: boolean;
  /** Of the instrument: what takes a ratio of a session to that of a year. */
  readonly sessionsPerYear: number;
}

export function Overfit({ sweepId, isDone, sessionsPerYear }: OverfitProps) {
  const { doubt, error, isBare, settings, stride, blocks } = useSweepDoubt(sweepId, isDone, sessionsPerYear);
  if (!isDone) return <Empty title="The sweep is not over">What the best of it is worth can be said once all variants are done.</Empty>;
  if (error) return <Failure error={error} />;
  if (isBare)
    return <Empty title="Nothing to tell it by">This sweep kept no daily returns, or has one variant only. Run it again to see it.</Empty>;
  if (!doubt) return <Loading what="the probability of overfitting" />;
  const { probability, logits, lossProbability, inSample, outOfSample } = doubt;
  const aYear = (ratios: Float64Array): string => number(mean(ratios)! * Math.sqrt(sessionsPerYear), 2);
  return (
    <div className="flex h-full flex-col gap-3 overflow-auto p-4">
      <p className="text-[15px]">
        Probability of overfitting <strong className="text-[22px]">{percent(probability, 0)}</strong>
      </p>
      <p className="max-w-3xl">
        The days of all {number(settings)} settings were halved in {number(logits.length)} ways. In {percent(probability, 0)} of them the
        setting that was best in one half stood at or below the middle in the other; {meaningOf(probability)}
      </p>
      <LogitPicture logits={logits} />
      <table className="max-w-xl text-[13px]">
        <tbody>
          <tr>
            <th scope="row" className="py-1 text-left font-normal text-soft">
              Annual Sharpe ratio of the best setting, where it was chosen
            </th>
            <td className="text-right font-semibold">{aYear(inSample)}</td>
          </tr>
          <tr>
            <th scope="row" className="py-1 text-left font-normal text-soft">
              the same in the other half
            </th>
            <td className="text-right font-semibold">{aYear(outOfSample)}</td>
          </tr>
          <tr>
            <th scope="row" className="py-1 text-left font-normal text-soft">
              ways in which it loses in the other half
            </th>
            <td className="text-right font-semibold">{percent(lossProbability, 0)}</td>
          </tr>
        </tbody>
      </table>
      <p className="text-[13px] text-soft">
        Combinatorially symmetric cross-validation over {number(blocks)} blocks of days (Bailey, Borwein, López de Prado & Zhu 2017).
        {stride > 1 ? ` One in ${number(stride)} variants kept its days.` : ""}
      </p>
    </div>
  );
}

function meaningOf(probability: number): string {
  if (probability < 0.1) return "being the best means something here.";
  if (probability < 0.3) return "being the best seems to mean something here.";
  return probability < 0.5 ? "being the best means little here." : "being the best means nothing here.";
}

function LogitPicture({ logits }: { readonly logits: Float64Array }) {
  const reach = logits.reduce((most, value) => Math.max(most, Math.abs(value)), 0.1);
  const counts = new Array<number>(BARS).fill(0);
  for (const value of logits) counts[Math.min(BARS - 1, Math.floor(((value + reach) / (2 * reach)) * BARS))]!++;
  const most = Math.max(...counts);
  return (
    <figure className="max-w-xl">
      <svg viewBox={`0 0 ${BARS * 20} 120`} className="w-full" role="img" aria-label="Logits of the rank in the other half, as bars">
        {counts.map((count, k) => (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: bars stand for places, which never move
            key={k}
            x={k * 20 + 1}
            width={18}
            y={110 - (count / most) * 105}
            height={(count / most) * 105}
            className={k < BARS / 2 ? "fill-loss-wash stroke-loss" : "fill-gain stroke-gain"}
          />
        ))}
        <line x1={BARS * 10} x2={BARS * 10} y1="0" y2="112" className="stroke-ink" />
      </svg>
      <figcaption className="flex justify-between text-[12px] text-soft">
        <span>{number(-reach, 1)}: last in the other half</span>
        <span>0: the middle</span>
        <span>first in the other half: {number(reach, 1)}</span>
      </figcaption>
    </figure>
  );
}
