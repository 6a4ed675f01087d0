/** When an instrument trades: now and next, its week, its year; and what its prices are worth. */
import type { Market } from "@plan-tester/contract";
import { nominalMs, timeframeLabel, tradingAt } from "@plan-tester/core";
import { useEffect, useState } from "react";
import { offeredTimeframes } from "../../data/markets.ts";
import { number } from "../../lib/format.ts";
import { nowWords } from "./now-words.ts";
import { PriceConverter } from "./price-converter.tsx";
import { sessionMinutes } from "./session-words.ts";
import { WeekPicture } from "./week-picture.tsx";
import { YearPicture } from "./year-picture.tsx";

const A_MINUTE = 60_000;

function useNow(): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), A_MINUTE / 2);
    return () => clearInterval(timer);
  }, []);
  return now;
}

export function HoursView({ market }: { readonly market: Market }) {
  const { calendar } = market.instrument;
  const now = useNow();
  const minutes = sessionMinutes(calendar);
  const offered = offeredTimeframes(market).filter((one) => nominalMs(one) < minutes * A_MINUTE);
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-6 overflow-auto p-4">
      {calendar.isAssumed ? (
        <p className="text-soft">Nobody has said when {market.instrument.symbol} trades. Change facts finds the sessions in its bars.</p>
      ) : (
        <>
          <p>
            <strong>{nowWords(tradingAt(calendar, now), calendar.zone)}</strong>{" "}
            <span className="text-soft">Times of {calendar.zone}.</span>
          </p>
          <WeekPicture calendar={calendar} />
          <p className="text-[13px]">
            <span className="text-soft">Bars a session: </span>
            {offered.map((one) => `${number(Math.ceil((minutes * A_MINUTE) / nominalMs(one)))} of ${timeframeLabel(one)}`).join(", ")}
          </p>
          <YearPicture calendar={calendar} lastDate={market.lastDate} firstDate={market.firstDate} />
        </>
      )}
      <PriceConverter market={market} />
    </div>
  );
}
