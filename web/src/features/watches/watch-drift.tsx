/** What a watch did against the backtest of the same bars: by cause and its money, then trade by trade. */
import type { WatchDrift as Drift, WatchDetail } from "@plan-tester/contract";
import type { DriftCause, DriftItem, DriftLeg } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { count, number, priceText, timeAt, units } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { At } from "../../ui/at.tsx";
import { Button } from "../../ui/button.tsx";
import { num, td, tdText, th } from "../../ui/page.tsx";
import { Failure } from "../../ui/states.tsx";

export interface WatchDriftProps {
  readonly watch: WatchDetail;
  readonly zone: string;
}

/** Differences shown at first, and with each asking for more. */
const ROWS = 200;

const MEANS: Readonly<Record<DriftCause, string>> = {
  "fill price": "the same orders filled at other prices",
  "partly filled": "the venue took only a part of an order",
  lag: "the plan was behind the venue's clock",
  refused: "the venue refused an order",
  prompt: "a prompt was declined, lapsed, or answered late",
  "by hand": "closed, cancelled or stopped by a user",
  policy: "the watch acted by its own rules",
  connection: "the line to the venue was broken",
  restart: "the plan lost its memory by a restart",
  "other version": "another version of the plan ran then",
  paused: "entries were paused",
  "alerts only": "nothing was sent",
  "earlier difference": "follows from a difference before it",
  "not explained": "nothing on the watch's journal explains it",
};

export function WatchDrift({ watch, zone }: WatchDriftProps) {
  const { data, error, isFetching, refetch } = useQuery(queries.watchDrift(watch.id));
  return (
    <section aria-label="Drift" className="flex min-h-0 flex-1 flex-col overflow-auto">
      <div className="flex items-center gap-3 px-3 py-1.5">
        <p className="flex-1 text-[13px] text-soft">
          {data
            ? `${timeAt(data.sinceMs, zone)} to ${timeAt(data.untilMs, zone)}, against the backtest of the same bars`
            : "Running the backtest …"}
        </p>
        <Button variant="quiet" disabled={isFetching} onClick={() => void refetch()}>
          {isFetching ? "Comparing …" : "Compare again"}
        </Button>
      </div>
      {error ? <Failure error={error} /> : null}
      {data ? <Compared {...{ drift: data, zone }} /> : null}
    </section>
  );
}

function Compared({ drift, zone }: { readonly drift: Drift; readonly zone: string }) {
  const { items, causes, matched, money } = drift;
  const [shown, setShown] = useState(ROWS);
  if (items.length === 0)
    return (
      <p className="px-3">
        {matched === 0 ? "Neither side has traded yet." : `No drift: ${count(matched, "trade")} on both sides, the same to the last digit.`}
      </p>
    );
  return (
    <>
      <p className="px-3 pb-2">
        {count(items.length, "trade differs", "trades differ")}, {matched} do not. The watch made <Amount value={money} /> against the
        backtest.
      </p>
      <table className="mx-3 mb-3 w-auto self-start text-[13px]">
        <tbody>
          {causes.map(({ cause, count: many, money: each }) => (
            <tr key={cause}>
              <td className={`${td} font-semibold`}>{cause}</td>
              <td className={`${td} ${num}`}>{many}</td>
              <td className={`${td} ${num}`}>
                <Amount value={each} />
              </td>
              <td className={`${tdText} text-soft`}>{MEANS[cause]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className="w-full text-[13px]">
        <thead>
          <tr>
            {["Watch", "Backtest", "What differs", "Cause"].map((head) => (
              <th key={head} className={th}>
                {head}
              </th>
            ))}
            <th className={`${th} ${num}`}>Money</th>
          </tr>
        </thead>
        <tbody>
          {items.slice(0, shown).map((item) => (
            <Row key={keyOf(item)} {...{ item, zone }} />
          ))}
        </tbody>
      </table>
      {shown < items.length ? (
        <Button className="m-3 self-start" onClick={() => setShown(shown + ROWS)}>
          Show more of {number(items.length)}
        </Button>
      ) : null}
    </>
  );
}

const keyOf = ({ watch, backtest }: DriftItem): string =>
  [watch, backtest].map((leg) => (leg ? `${leg.symbol} ${leg.side} ${leg.entryTime} ${leg.exitTime} ${leg.entryTag}` : "-")).join("|");

function Row({ item, zone }: { readonly item: DriftItem; readonly zone: string }) {
  const { watch, backtest, what, cause, money } = item;
  return (
    <tr className="align-top">
      <td className={tdText}>
        <Leg {...{ leg: watch, zone }} />
      </td>
      <td className={tdText}>
        <Leg {...{ leg: backtest, zone }} />
      </td>
      <td className={tdText}>{what}</td>
      <td className={td} title={MEANS[cause]}>
        {cause}
      </td>
      <td className={`${td} ${num}`}>
        <Amount value={money} />
      </td>
    </tr>
  );
}

function Leg({ leg, zone }: { readonly leg: DriftLeg | null; readonly zone: string }) {
  const markets = useMarkets();
  if (!leg) return <span className="text-soft">–</span>;
  const { side, quantity, symbol, entryTime, entryPrice, exitTime, exitPrice, reason } = leg;
  const decimals = instrumentOf(markets, symbol)?.decimals ?? 2;
  return (
    <>
      {side > 0 ? "long" : "short"} {units(quantity)} {symbol} at {priceText(entryPrice, decimals)}{" "}
      <At className="text-soft" ms={entryTime} zone={zone} />
      <br />
      {exitTime === null ? (
        <span className="text-soft">still open</span>
      ) : (
        <>
          out by {reason} at {priceText(exitPrice, decimals)} <span className="text-soft">{timeAt(exitTime, zone)}</span>
        </>
      )}
    </>
  );
}
