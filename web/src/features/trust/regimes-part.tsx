/** The result by the state that the market was in, with the test that says whether the difference is noise. */
import { type InstrumentsDiffer, instrumentsDiffer, MOST_P, type RegimeKind, type Regimes, regimesOf } from "@plan-tester/core";
import { useMemo } from "react";
import { number, percent, signedMoney } from "../../lib/format.ts";
import { num, td, th } from "../../ui/page.tsx";
import type { EvidenceData, EvidenceView } from "../run-view/view.ts";
import { REGIME_KINDS } from "./market-states.ts";
import { regimeQuestion } from "./regime-question.ts";

const TITLES: Readonly<Record<RegimeKind, string>> = {
  volatility: "By volatility of the 20 days before",
  trend: "By trend of the 20 days before",
};

/** What the test says, as a sentence. */
export function regimeWords({ p, problem, parts }: Regimes): string {
  if (p === null) return problem;
  if (p > MOST_P) return `Noise: thirds that mean nothing differ as much in ${percent(p, 0)} of the shifts.`;
  const best = parts.reduce((most, part) =>
    (part.ratio ?? Number.NEGATIVE_INFINITY) > (most.ratio ?? Number.NEGATIVE_INFINITY) ? part : most,
  );
  return `More than noise (p ${number(p, 3)}): it did best in ${best.name} markets.`;
}

export interface RegimesPartProps {
  readonly view: EvidenceView;
  readonly data: EvidenceData;
  readonly sessionsPerYear: number;
}

export function RegimesPart({ view, data, sessionsPerYear }: RegimesPartProps) {
  const found = useMemo(() => {
    const question = regimeQuestion(view, data.bars, sessionsPerYear);
    return REGIME_KINDS.map((kind) => [kind, regimesOf(question, kind)] as const);
  }, [view, data.bars, sessionsPerYear]);
  const instruments = useMemo(() => instrumentsDiffer(view.trades), [view.trades]);
  return (
    <section aria-label="Regimes" className="flex flex-col gap-2">
      <h2 className="font-semibold text-[13px]">Regimes</h2>
      <div className="grid gap-x-8 gap-y-4 2xl:grid-cols-2">
        {found.map(([kind, regimes]) => (
          <Regime key={kind} title={TITLES[kind]} regimes={regimes} />
        ))}
        {instruments ? <Instruments found={instruments} /> : null}
      </div>
    </section>
  );
}

/** What the test of the instruments says, as a sentence. */
export function instrumentWords({ p, problem, parts }: InstrumentsDiffer): string {
  if (p === null) return problem;
  if (p > MOST_P) return `Noise: instruments that mean nothing differ as much in ${percent(p, 0)} of the draws.`;
  const best = parts.reduce((most, part) => (part.average > most.average ? part : most));
  return `More than noise (p ${number(p, 3)}): it did best on ${best.symbol}.`;
}

const average = ({ unit }: InstrumentsDiffer, value: number): string => (unit === "R" ? number(value, 2) : signedMoney(value));

const Instruments = ({ found }: { readonly found: InstrumentsDiffer }) => (
  <Parts
    title="By instrument"
    heads={["Instrument", "Trades", "Net", found.unit === "R" ? "Average, R" : "Average"]}
    rows={found.parts.map((part) => [part.symbol, number(part.trades), signedMoney(part.net), average(found, part.average)])}
    words={instrumentWords(found)}
  />
);

const Regime = ({ title, regimes }: { readonly title: string; readonly regimes: Regimes }) => (
  <Parts
    title={title}
    heads={["Market", "Days", "Trades", "Net", "A year", "Ratio"]}
    rows={regimes.parts.map(({ name, days, trades, net, aYear, ratio }) => [
      ...[name, number(days), number(trades), signedMoney(net), percent(aYear), number(ratio, 2)],
    ])}
    words={regimeWords(regimes)}
  />
);

interface PartsProps {
  readonly title: string;
  readonly heads: readonly string[];
  /** Each begins with what it is called. */
  readonly rows: readonly (readonly string[])[];
  /** What the test of them says. */
  readonly words: string;
}

function Parts({ title, heads, rows, words }: PartsProps) {
  return (
    <div className="flex flex-col gap-1">
      <table className="text-[13px]">
        <caption className="pb-1 text-left text-soft">{title}</caption>
        <thead>
          <tr>
            {heads.map((label, k) => (
              <th key={label} className={`${th} ${k > 0 ? num : ""}`}>
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, ...figures]) => (
            <tr key={name}>
              <th scope="row" className={`${td} text-left font-normal`}>
                {name}
              </th>
              {figures.map((figure, k) => (
                <td key={heads[k + 1]} className={`${td} ${num}`}>
                  {figure}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[13px]">{words}</p>
    </div>
  );
}
