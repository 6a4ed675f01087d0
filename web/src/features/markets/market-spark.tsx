import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { Spark } from "../../ui/spark.tsx";

/** The whole history in a small curve. */
export function MarketSpark({ symbol }: { readonly symbol: string }) {
  const { data } = useQuery(queries.history(symbol));
  if (!data) return null;
  const step = Math.max(1, Math.floor(data.closes.length / 120));
  return <Spark values={data.closes.filter((_close, i) => i % step === 0)} width={140} label={`History of ${symbol}`} />;
}
