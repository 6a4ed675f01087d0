/** The blend run by the engine as several plans on one account, and what differs from the sum of their own runs, in money. */
import type { BlendRunMeta, BlendSetup, Packed, RunEvidence } from "@plan-tester/contract";
import { blendCurves, blendFigures, blendPart, type Differences, differencesBetween, LIMIT_NAMES } from "@plan-tester/core";
import { useMutation } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { call, messageOf } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { useChange } from "../../data/use-change.ts";
import { count, dayAt, duration, money, percent } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { num, td, tdText } from "../../ui/page.tsx";
import { Failure } from "../../ui/states.tsx";
import type { QuickAnswer } from "./blend-work.ts";
import type { MemberFacts } from "./use-members.ts";

export interface JointRunProps {
  readonly name: string;
  readonly setup: BlendSetup;
  readonly names: readonly string[];
  readonly facts: readonly (MemberFacts | null)[];
  /** null while it is worked out: what was run before stays. */
  readonly quick: QuickAnswer | null;
  readonly zone: string;
}

/** What was run: its answer stays while sizes are changed, and says so. */
interface Made {
  readonly of: string;
  readonly answer: Packed<BlendRunMeta>;
  /** What was run: members may be removed while its answer is shown. */
  readonly members: readonly { readonly name: string; readonly run: RunEvidence; readonly factor: number; readonly rate: number }[];
  readonly cash: number;
  /** Days that count; null for all. */
  readonly days: QuickAnswer["shared"];
}

/** Money that rounding leaves. */
const HAIR = 0.005;

const rateOf = ({ currency, rates }: BlendSetup, facts: MemberFacts): number =>
  facts.currency === currency ? 1 : (rates[facts.currency] ?? 1);

/** Why a size can't be run; "" where it can. */
export function sizeProblem(name: string, { base }: Pick<MemberFacts, "base">, size: number): string {
  return base === null && size !== 1
    ? `${name} had entries of several sizes: it can be run as it was (size 1), or left out (0). Give its plan one size first.`
    : "";
}

export function JointRun({ name, setup, names, facts, quick, zone }: JointRunProps) {
  const [progress, setProgress] = useState(0);
  const [runId] = useState(() => crypto.randomUUID().slice(0, 12));
  const { run: stop } = useChange("stopBlendRun");
  useServerEvents((event) => {
    if (event.type === "blend-progress" && event.id === runId) setProgress(event.done / event.total);
  });
  const sizes = quick?.units ?? [];
  const of = JSON.stringify([setup.cash, setup.limits, sizes, setup.rates, setup.days]);
  const chosen = sizes.flatMap((size, k) => (size > 0 && facts[k] ? [k] : []));
  const problem = chosen.map((k) => sizeProblem(names[k]!, facts[k]!, sizes[k]!)).find(Boolean) ?? "";
  const run = useMutation({
    mutationFn: async (): Promise<Made> => {
      setProgress(0);
      const members = chosen.map((k) => {
        const { run: made, base } = facts[k]!;
        const size = sizes[k]!;
        // Laid over the plan also where it is the run's own: on another account a plan may size by equity.
        return { runId: made.id, units: base === null ? null : size, rate: rateOf(setup, facts[k]!) };
      });
      const answer = await call("runBlend", {}, { id: runId, name, cash: setup.cash, limits: setup.limits ?? null, members });
      return {
        of,
        answer,
        members: chosen.map((k, m) => ({
          ...{ name: names[k]!, run: facts[k]!.run, rate: members[m]!.rate },
          factor: sizes[k]! / (facts[k]!.base ?? 1),
        })),
        cash: setup.cash,
        days: setup.days === "shared" ? (quick?.shared ?? null) : null,
      };
    },
  });
  return (
    <section className="flex flex-col gap-2" aria-label="On one account">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="font-semibold text-[14px]">On one account, run by the engine</h2>
        {run.isPending ? (
          <>
            <progress value={progress} className="w-40 accent-(--accent)" aria-label="Progress of the joint run" />
            <span className="text-[13px] text-soft tabular-nums">{percent(progress, 0)}</span>
            <Button onClick={() => void stop({ id: runId })}>Stop</Button>
          </>
        ) : (
          <Button disabled={chosen.length === 0 || problem !== ""} onClick={() => run.mutate()}>
            Run as one account
          </Button>
        )}
      </div>
      {problem ? <p className="text-[13px] text-loss">{problem}</p> : null}
      {run.error ? <Failure error={new Error(messageOf(run.error))} /> : null}
      {run.data ? (
        <Outcome made={run.data} isOld={run.data.of !== of} zone={zone} />
      ) : (
        <p className="max-w-3xl text-[13px] text-soft">
          The figures above add up what each run made alone. Here the plans share cash, margin, the limit of positions and those on losses,
          each touching only its own positions: what one has tied up is not there for another.
        </p>
      )}
    </section>
  );
}

function Outcome({ made, isOld, zone }: { readonly made: Made; readonly isOld: boolean; readonly zone: string }) {
  const { answer, members, cash, days } = made;
  const { meta, columns } = answer;
  const rows = useMemo(
    () =>
      members.map(({ name, run, factor }, m) => {
        const named = <T extends { readonly symbol: string }>(trades: readonly T[]): T[] =>
          trades.map((trade) => ({ ...trade, symbol: trade.symbol || run.settings.symbol }));
        const { netProfit, refused, trades } = meta.members[m]!;
        const differences = differencesBetween(named(run.trades), factor, named(trades));
        return { name, netProfit, refused, sum: factor * (run.figures.netProfit ?? 0), differences };
      }),
    [members, meta],
  );
  const figures = useMemo(() => {
    const all = blendCurves(
      members.map(({ run, rate }, m) => ({
        ...{ time: columns[`time${m}`]!, equity: columns[`equity${m}`]! },
        ...{ cash: run.settings.cash, rate },
      })),
      zone,
    );
    // The same days as the figures above; a member that was left out may have been the only one with bars on the first of them.
    const inside = days ? all.days.filter((day) => day >= days.from && day <= days.to) : all.days;
    const from = inside.length > 0 ? all.days.indexOf(inside[0]!) : 0;
    const ones = members.map(() => 1);
    return blendFigures(blendPart(all, from, from + inside.length), ones, cash);
  }, [members, columns, cash, zone, days]);
  const total = rows.reduce((sum, { differences }, m) => sum + differences.money * members[m]!.rate, 0);
  return (
    <div className="flex flex-col gap-2">
      <p role="status" className="text-[14px]">
        On one account they made <strong>{money(figures.profit)}</strong> and fell <strong>{percent(figures.drawdown.share)}</strong> at
        worst
        {Math.abs(total) < HAIR ? (
          ": exactly what their runs add up to."
        ) : (
          <>
            : <Amount value={total} /> against the sum of their runs.
          </>
        )}
        {limitHitsWords(meta.limitHits, zone)}
        {meta.ruinMs === null ? "" : ` The account was wiped out on ${dayAt(meta.ruinMs, zone)}, and everything was closed.`}{" "}
        <span className="text-soft">
          Run in {duration(meta.elapsedMs)}.{isOld ? " Sizes or account have changed since." : ""}
        </span>
      </p>
      {meta.members.map(({ failure, runId }, m) =>
        failure ? (
          <p key={runId} className="border-loss border-l-3 bg-loss-wash px-2.5 py-1.5 text-[13px]">
            {members[m]!.name} failed{failure.line === null ? "" : ` on line ${failure.line}`}: {failure.message}
          </p>
        ) : null,
      )}
      <div className="overflow-x-auto">
        <table className="w-full max-w-5xl text-[13px] tabular-nums">
          <caption className="pb-1 text-left text-soft">
            Each plan over its whole run{days ? ", also on days that are not counted above" : ""}
          </caption>
          <thead>
            <tr>
              {["Member", "Own run at that size", "On the account", "Difference", "What differs"].map((label, i) => (
                <th
                  key={label}
                  className={`border-rule border-b px-3 py-1.5 font-normal text-[13px] text-soft ${i > 0 && i < 4 ? num : "text-left"}`}
                >
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ name, netProfit, refused, sum, differences }) => (
              <tr key={name}>
                <td className={td}>{name}</td>
                <td className={`${td} ${num}`}>
                  <Amount value={sum} />
                </td>
                <td className={`${td} ${num}`}>
                  <Amount value={netProfit} />
                </td>
                <td className={`${td} ${num}`}>
                  <Amount value={Math.abs(differences.money) < HAIR ? 0 : differences.money} />
                </td>
                <td className={tdText}>{differenceWords(differences, refused)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

/** How often each limit of the account was hit, and when first. */
export function limitHitsWords(hits: BlendRunMeta["limitHits"], zone: string): string {
  return (["dailyLoss", "drawdown"] as const)
    .map((name) => {
      const own = hits.filter(({ limit }) => limit === name);
      if (own.length === 0) return "";
      const when = dayAt(own[0]!.timeMs, zone);
      return ` The ${LIMIT_NAMES[name]} was hit ${own.length === 1 ? `on ${when}` : `${own.length} times, first on ${when}`}.`;
    })
    .join("");
}

function differenceWords({ missing, further, sized, other }: Differences, refused: BlendRunMeta["members"][0]["refused"]): string {
  const part = ({ trades, money: sum }: Differences["missing"], words: string): string =>
    trades === 0 ? "" : `${count(trades, "trade")} ${words} (${sum > 0 ? "+" : ""}${money(sum)})`;
  const said = [
    part(missing, "missing"),
    part(further, "more"),
    part(sized, "of another size"),
    part(other, "with another result"),
    ...refused.map(({ reason, orders }) => `${count(orders, "order")} refused: ${reason}`),
  ].filter(Boolean);
  return said.join("; ") || "nothing";
}
