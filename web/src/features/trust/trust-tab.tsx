/** What a result is worth: a verdict in words first, then each figure that it rests on, with what it means and where it comes from. */
import type { RunEvidence, StressAnswer } from "@plan-tester/contract";
import { luckOf } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useMemo } from "react";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { money, number, percent, signedMoney } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { RulesPart, useRulesAnswer } from "../rules/rules-part.tsx";
import type { EvidenceData, EvidenceView } from "../run-view/view.ts";
import { ChancePart } from "./chance-part.tsx";
import { EntriesPart } from "./entries-part.tsx";
import { FanChart } from "./fan-chart.tsx";
import { RegimesPart } from "./regimes-part.tsx";
import { type Trust, useTrust } from "./use-trust.ts";

export interface TrustTabProps {
  readonly run: RunEvidence;
  readonly view: EvidenceView;
  readonly data: EvidenceData | null;
}

export function TrustTab({ run, view, data }: TrustTabProps) {
  const context = useQuery(queries.trials(run.planId, run.id));
  if (context.error) return <Failure error={context.error} />;
  if (!data || !context.data) return <Loading what="what the result is worth" />;
  return <TrustOf run={run} view={view} data={data} context={context.data} />;
}

function TrustOf({
  run,
  view,
  data,
  context,
}: TrustTabProps & { readonly data: EvidenceData; readonly context: Parameters<typeof useTrust>[3] }) {
  const stress = useQuery(queries.runStress(run.id));
  const chance = useQuery(queries.runChance(run.id)).data;
  const luck = useMemo(() => (chance ? luckOf(chance.best, chance.ratios) : null), [chance]);
  const rules = useRulesAnswer(run.id);
  const trust = useTrust(run, view, data, context, { stress: stress.data ?? null, chance: luck, rules: rules?.rules ?? null });
  return (
    <div className="flex flex-col gap-5 p-3">
      <VerdictPart trust={trust}>
        {run.walkForwardId ? null : (
          <Button variant="primary" disabled={stress.isFetching} onClick={() => void stress.refetch()}>
            {stress.isFetching ? "Perturbing …" : stress.data ? "Perturb inputs and fills again" : "Perturb inputs and fills"}
          </Button>
        )}
        {stress.error ? <span className="text-loss">{messageOf(stress.error)}</span> : null}
      </VerdictPart>
      <ChancePart run={run} context={context} />
      <SharpePart trust={trust} />
      {trust.isDrawing ? <Loading what="draws of the trades" /> : null}
      {trust.resampling ? <ResamplingPart trust={trust} view={view} cash={run.settings.cash} /> : null}
      {run.walkForwardId || run.watched ? null : <RulesPart answer={rules} />}
      <EntriesPart entries={trust.entries} random={trust.random} />
      <RegimesPart view={view} data={data} sessionsPerYear={trust.year} />
      <StressPart trust={trust} view={view} stress={stress.data ?? null} />
    </div>
  );
}

function VerdictPart({ trust: { verdict }, children }: { readonly trust: Trust; readonly children: ReactNode }) {
  const list = (title: string, mark: string, lines: readonly string[]): ReactNode => (
    <div className="min-w-0">
      <h3 className="font-semibold text-soft">{title}</h3>
      {lines.length === 0 ? <p className="text-soft">Nothing.</p> : null}
      <ul className="flex flex-col gap-1">
        {lines.map((line) => (
          <li key={line} className="flex gap-2">
            <span aria-hidden className="w-3 shrink-0 text-center font-semibold">
              {mark}
            </span>
            {line}
          </li>
        ))}
      </ul>
    </div>
  );
  return (
    <section aria-label="Verdict" className="flex flex-col gap-3 text-[14px]">
      <div className="grid gap-4 md:grid-cols-2">
        {list("Evidence for", "+", verdict.forIt)}
        {list("Evidence against", "−", verdict.against)}
      </div>
      {list("What has not been tried", "?", verdict.untested)}
      <p className="border-accent border-l-3 bg-accent-wash px-3 py-2">
        <strong className="font-semibold">The next honest step:</strong> {verdict.next}
      </p>
      <div className="flex items-center gap-2">{children}</div>
    </section>
  );
}

function Figure({
  label,
  value,
  source,
  children,
}: {
  readonly label: string;
  readonly value: string;
  readonly source?: string;
  readonly children: ReactNode;
}) {
  return (
    <tr className="align-top">
      <th scope="row" className={`${td} text-left font-normal`}>
        {label}
      </th>
      <td className={`${td} ${num} font-semibold`}>{value}</td>
      <td className="border-rule/60 border-b px-3 py-1 text-soft">
        {children} {source ? <span className="whitespace-nowrap">({source})</span> : null}
      </td>
    </tr>
  );
}

function SharpePart({ trust }: { readonly trust: Trust }) {
  const { shape, year, confidence, deflated, needed, sessions, trials, variance } = trust;
  const [bailey12, bailey14] = ["Bailey & López de Prado 2012", "Bailey & López de Prado 2014"];
  return (
    <section>
      <h2 className="pb-1 font-semibold text-[13px]">The Sharpe ratio in doubt</h2>
      <table className="w-full text-[13px]">
        <tbody>
          <Figure label="Annual Sharpe ratio" value={number(shape && shape.sharpe * Math.sqrt(year), 2)}>
            Of {number(sessions)} daily returns with skew {number(shape?.skew, 2)} and kurtosis {number(shape?.kurtosis, 1)}. Losses that
            are larger and rarer than gains make the same ratio less certain.
          </Figure>
          <Figure label="Confidence, this run alone" value={percent(confidence)} source={bailey12}>
            How likely the true ratio is above 0, given the length and the shape of the track. It knows nothing of what was tried before.
          </Figure>
          <Figure label="Confidence, all trials counted (rough)" value={percent(deflated)} source={bailey14}>
            The same against the best annual ratio that {number(trials.distinct)} distinct settings without any skill would show by chance
            {trials.independent < trials.distinct - 0.5
              ? `, as the ${number(trials.independent, trials.independent < 10 ? 1 : 0)} independent ones that they amount to`
              : ""}
            ; theirs spread by {number(Math.sqrt(variance * year), 2)} over so many sessions. Settings that were run by hand count as
            independent, and what was tried elsewhere is not counted: a rough figure that decides nothing by itself.
          </Figure>
          <Figure label="Track record needed" value={needed === null ? "none is enough" : `${number(needed)} sessions`} source={bailey12}>
            Sessions until the ratio stands above 0 with 95 % confidence. There are {number(sessions)}.
          </Figure>
        </tbody>
      </table>
    </section>
  );
}

const LEVELS = ["5 %", "25 %", "half", "75 %", "95 %"];

function ResamplingPart({ trust, view, cash }: { readonly trust: Trust; readonly view: EvidenceView; readonly cash: number }) {
  const { bootstrap, reshuffle, draws, fan } = trust.resampling!;
  const row = (label: string, values: readonly number[]): ReactNode => (
    <tr>
      <th scope="row" className={`${td} text-left font-normal`}>
        {label}
      </th>
      {values.map((value, k) => (
        <td key={LEVELS[k]} className={`${td} ${num}`}>
          {number(value)}
        </td>
      ))}
    </tr>
  );
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-[13px]">The same trades, drawn {number(draws)} times</h2>
      <div className="grid gap-3 lg:grid-cols-2">
        <FanChart fan={fan} cash={cash} nets={view.trades.map(({ net }) => net)} />
        <table className="self-start text-[13px]">
          <thead>
            <tr>
              <th className={th}>Share of draws below</th>
              {LEVELS.map((level) => (
                <th key={level} className={`${th} ${num}`}>
                  {level}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {row("Equity at the end, resampled", bootstrap.finalEquity)}
            {row("Deepest fall, resampled", bootstrap.maxDrawdown)}
            {row("Deepest fall, other order", reshuffle.maxDrawdown)}
          </tbody>
        </table>
      </div>
      <p className="text-[13px] text-soft">
        Resampled with repeats, they end below the start in {percent(bootstrap.lossProbability)} of the draws. History showed a deepest fall
        of {money(view.figures.maxDrawdown)}: it is one draw, not the limit. Days on which several trades are clustered are taken apart by
        this, so that it is rather too hopeful.
      </p>
    </section>
  );
}

function StressPart({ trust, view, stress }: { readonly trust: Trust; readonly view: EvidenceView; readonly stress: StressAnswer | null }) {
  const { without, delayed, costs } = trust;
  const nets = stress?.jitter.map(({ net }) => net).sort((a, b) => a - b) ?? [];
  const rows: readonly (readonly [string, number | null, string])[] = [
    ["as run", view.figures.netProfit, ""],
    ...without.map(
      ({ dropped, net }) => [`without its ${dropped === 1 ? "best trade" : `${number(dropped)} best trades`}`, net, ""] as const,
    ),
    ["at twice the costs", costs.steps.find(({ multiple }) => multiple === 2)?.net ?? null, ""],
    ["entered a bar late, same exits", delayed.net, delayed.missed > 0 ? `${number(delayed.missed)} trades missed` : ""],
    ...(stress
      ? stress.slippage
          .filter(({ ticks }) => ticks > 0)
          .map(({ ticks, net }) => [`${number(ticks)} more ticks of slippage per fill, run again`, net, ""] as const)
      : []),
    ...(nets.length > 0
      ? ([
          [
            `inputs perturbed by up to ${percent(stress!.reach, 0)}, run again: the middle one`,
            nets[Math.floor(nets.length / 2)]!,
            `${number(nets.filter((net) => net > 0).length)} of ${number(nets.length)} gained`,
          ],
          ["the worst of them", nets[0]!, ""],
        ] as const)
      : []),
  ];
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-[13px]">Treated worse</h2>
      <table className="w-full max-w-2xl text-[13px]">
        <tbody>
          {rows.map(([label, net, note]) => (
            <tr key={label}>
              <th scope="row" className={`${td} text-left font-normal`}>
                {label}
              </th>
              <td className={`${td} ${num} font-semibold ${(net ?? 0) >= 0 ? "text-gain" : "text-loss"}`}>{signedMoney(net)}</td>
              <td className={`${td} text-soft`}>{note}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
