/** The members of a blend, as far as their runs, curves and bars are there. */
import type { BlendMemberSetup, Market, RunEvidence } from "@plan-tester/contract";
import { entrySizes, type Instrument, positionColumns } from "@plan-tester/core";
import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";
import { seriesOf } from "../../data/bars.ts";
import { accountCurrency, instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { instrumentsOfRun } from "../run-view/view.ts";
import { fixedRate, marginPerUnit } from "../size/falls.ts";
import type { BlendWorld, WorkMember } from "./blend-work.ts";

/** What is known of a member without its curve. */
export interface MemberFacts {
  readonly run: RunEvidence;
  readonly instrument: Instrument;
  /** Of the run's account. */
  readonly currency: string;
  /** Units of an entry; null where they vary or several instruments are traded: then it is counted in whole runs. */
  readonly base: number | null;
  readonly step: { readonly minQuantity: number; readonly quantityStep: number };
}

export interface Members {
  /** In the order of the setup; null while it comes, or where it is lost. */
  readonly facts: readonly (MemberFacts | null)[];
  readonly errors: readonly (Error | null)[];
  /** Currencies of members' accounts for which the blend has no rate. */
  readonly ratesMissing: readonly string[];
  /** null until all is there. */
  readonly world: BlendWorld | null;
}

const WHOLE_RUN = { minQuantity: 1, quantityStep: 1 };

function factsOf(run: RunEvidence, markets: readonly Market[]): MemberFacts | null {
  const instrument = instrumentOf(markets, run.settings.symbol);
  if (!instrument) return null;
  const { least, most } = entrySizes(run.trades);
  const isPlain = least > 0 && least === most && run.settings.alsoOn.length === 0;
  const { minQuantity, quantityStep } = instrument;
  return {
    ...{ run, instrument, currency: accountCurrency(run.settings, markets) },
    base: isPlain ? most : null,
    step: isPlain ? { minQuantity, quantityStep } : WHOLE_RUN,
  };
}

export interface MembersQuestion {
  readonly members: readonly BlendMemberSetup[];
  readonly currency: string;
  readonly rates: Readonly<Record<string, number>>;
}

export function useMembers({ members, currency, rates }: MembersQuestion): Members {
  const markets = useMarkets();
  const ids = members.map(({ runId }) => runId).join();
  const runs = useQueries({ queries: members.map(({ runId }) => queries.run(runId)) });
  const columns = useQueries({ queries: members.map(({ runId }) => queries.runColumns(runId)) });
  // Those of runs that are there: once all are, in their order.
  const bars = useQueries({ queries: runs.flatMap(({ data }) => (data ? [queries.barsOf(data)] : [])) });
  const facts = runs.map(({ data }) => (data && markets.length > 0 ? factsOf(data, markets) : null));
  const errors = members.map(({ runId }, k) => {
    const failed = runs[k]!.error ?? columns[k]!.error ?? (bars.length === members.length ? bars[k]!.error : null);
    if (failed) return failed;
    return runs[k]!.data && markets.length > 0 && !facts[k]
      ? new Error(`The instrument ${runs[k]!.data!.settings.symbol} of this run (${runId}) is not in this workspace any more.`)
      : null;
  });
  const isThere =
    members.length > 0 && bars.length === members.length && members.every((_member, k) => facts[k] && columns[k]!.data && bars[k]?.data);
  const ratesMissing = [
    ...new Set(facts.flatMap((one) => (one && one.currency !== currency && !(one.currency in rates) ? one.currency : []))),
  ];
  const ratesKey = JSON.stringify(rates);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is read of queries changes with their ids only
  const world = useMemo((): BlendWorld | null => {
    if (!isThere || ratesMissing.length > 0) return null;
    const made = facts.map((one, k) =>
      workMember(one!, {
        ...{ equity: columns[k]!.data!.columns.equity!, bars: seriesOf(bars[k]!.data!), markets },
        rate: one!.currency === currency ? 1 : rates[one!.currency]!,
      }),
    );
    return { members: made, zone: facts[0]!.instrument.calendar.zone };
  }, [ids, isThere, currency, ratesKey]);
  return { facts, errors, ratesMissing, world };
}

interface Sources {
  readonly equity: Float64Array;
  readonly bars: ReturnType<typeof seriesOf>;
  readonly markets: readonly Market[];
  readonly rate: number;
}

function workMember({ run, instrument, currency, base, step }: MemberFacts, { equity, bars, markets, rate }: Sources): WorkMember {
  const { settings, trades } = run;
  const toAccount = fixedRate(instrument, currency, settings.conversions) ?? 1;
  const { value, grossUnits } = positionColumns(trades, bars, instrumentsOfRun(run, markets));
  const n = equity.length;
  const unitMargin = marginPerUnit(settings.margin, instrument, bars.close[n - 1] ?? 0, toAccount) ?? 0;
  const asked = settings.margin;
  const margin = value.map((held, i) =>
    !asked ? 0 : asked.by === "unit" ? grossUnits[i]! * asked.value : (held * toAccount) / asked.value,
  );
  const inBlend = (column: Float64Array): Float64Array => column.map((amount) => amount * rate);
  return {
    ...{ time: bars.closeTime.slice(0, n), equity, cash: settings.cash, rate },
    trades: trades.map(({ symbol, side, entryTime, exitTime }) => ({ symbol: symbol || settings.symbol, side, entryTime, exitTime })),
    ...{ base: base ?? 1, instrument: step, marginPerUnit: base === null ? 0 : unitMargin * rate },
    ...{ value: inBlend(value.map((held) => held * toAccount)), margin: inBlend(margin) },
  };
}
