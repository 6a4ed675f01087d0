/** That no bars come because nothing is traded now: why, and until when. Nothing where it trades, or nobody knows. */
import { tradingAt } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { nowWords } from "../markets/now-words.ts";

export function ClosedNote({ symbol, zone }: { readonly symbol: string; readonly zone: string }) {
  const { data: venue } = useQuery(queries.venue());
  const calendar = instrumentOf(useMarkets(), symbol)?.calendar;
  if (!venue?.connected || !calendar || calendar.isAssumed) return null;
  const at = tradingAt(calendar, venue.nowMs);
  return at.isOpen ? null : (
    <p role="note" className="w-full text-[13px] text-soft">
      {nowWords(at, zone)}
    </p>
  );
}
