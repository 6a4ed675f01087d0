/** What the days of a sweep's variants say of its best one, worked out once beside the page. */
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { askWorker } from "../../lib/ask-worker.ts";
import type { DoubtQuestion, SweepDoubt } from "./overfit-worker.ts";

const BLOCKS = 16;
/** Above so many settings the halves are counted over fewer blocks: 924 ways rather than 12,870. */
const MANY_SETTINGS = 1500;

export interface DoubtOfSweep {
  /** null while it is worked out, and where it can't be told. */
  readonly doubt: SweepDoubt | null;
  readonly error: Error | null;
  /** Whether there is nothing to tell it by. */
  readonly isBare: boolean;
  readonly settings: number;
  /** Of every so many variants daily returns were kept. */
  readonly stride: number;
  readonly blocks: number;
}

/** @param sessionsPerYear of the instrument: what takes a ratio of a session to that of a year */
export function useSweepDoubt(sweepId: string, isDone: boolean, sessionsPerYear: number): DoubtOfSweep {
  const daily = useQuery({ ...queries.sweepDaily(sweepId), enabled: isDone });
  const returns = daily.data?.singles.daily;
  const { settings, dailyStride: stride } = daily.data?.meta ?? { settings: 0, dailyStride: 0 };
  const blocks = settings > MANY_SETTINGS ? 12 : BLOCKS;
  const found = useQuery({
    queryKey: ["sweeps", sweepId, "doubt"],
    queryFn: () => {
      const question: DoubtQuestion = { returns: returns!, settings, blocks, sessionsPerYear, seed: sweepId };
      return askWorker<SweepDoubt>(() => new Worker(new URL("./overfit-worker.ts", import.meta.url), { type: "module" }), question);
    },
    enabled: returns !== undefined && returns.length > 0 && settings > 1,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const isBare = returns !== undefined && (returns.length === 0 || settings < 2);
  return { doubt: found.data ?? null, error: daily.error ?? found.error, isBare, settings, stride, blocks };
}
