import { packColumns } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { type RequestHandler, Router } from "express";
import type { MarketService } from "./market-service.ts";

const DATE = /^\d{4}-\d{2}-\d{2}$/;

function queryText(value: unknown, name: string, pattern: RegExp): string {
  if (typeof value !== "string" || !pattern.test(value))
    throw new PlanTesterError("bad-input", `The address lacks a proper ${name}; it got ${JSON.stringify(value)}.`, { [name]: value });
  return value;
}

export function marketRoutes(markets: MarketService): Router {
  const router = Router();
  router.get("/markets", async (_request, response) => void response.json(await markets.list()));
  router.get(
    "/history",
    async (request, response) => void response.json(await markets.thumbnail(queryText(request.query.symbol, "symbol", /^.{1,24}$/))),
  );

  /** Bars as columns, with the session index of each bar and the sessions' dates. */
  const bars: RequestHandler = async (request, response) => {
    const { query } = request;
    const symbol = queryText(query.symbol, "symbol", /^.{1,24}$/);
    const timeframe = queryText(query.timeframe, "timeframe", /^\d{1,4}(m|h|d|w|mo)$/);
    const series = await markets.period(symbol, timeframe, queryText(query.from, "from", DATE), queryText(query.to, "to", DATE));
    const used = new Map<number, number>();
    const session = Float64Array.from(series.session, (s) => {
      if (!used.has(s)) used.set(s, used.size);
      return used.get(s)!;
    });
    const meta = { symbol, timeframe, zone: series.sessions.zone, dates: [...used.keys()].map((s) => series.sessions.dates[s]) };
    const { time, closeTime, open, high, low, close, volume } = series;
    const columns = Object.entries({ time, closeTime, open, high, low, close, volume, session }).map(([name, values]) => ({
      name,
      values,
    }));
    response.type("application/octet-stream").send(Buffer.from(packColumns(meta, columns)));
  };
  router.get("/bars", bars);
  return router;
}
