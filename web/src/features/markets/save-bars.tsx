/** All bars of an instrument in the timeframe that is shown, as a file, with the studies that stand beside them. */
import type { Market } from "@plan-tester/contract";
import { BAR_FILES, type BarFile } from "@plan-tester/core";
import { Download } from "lucide-react";
import { fileName } from "../../lib/files.ts";
import { useRememberedList } from "../../lib/site-data.ts";
import { useStudyColumns } from "./use-study-columns.ts";

const WORDS: Readonly<Record<BarFile, string>> = { csv: "CSV", jsonl: "JSON lines", parquet: "Parquet" };

const NO_STUDIES: readonly string[] = [];

export function SaveBars({ market, timeframe }: { readonly market: Market; readonly timeframe: string }) {
  const [remembered] = useRememberedList("market studies", NO_STUDIES);
  // One that can't be computed on these bars would leave no file at all.
  const studies = useStudyColumns(market, timeframe, remembered).flatMap(({ study, problem }) => (problem === "" ? [study] : []));
  const { instrument, firstDate, lastDate } = market;
  return (
    <span className="flex items-center gap-1.5 text-[13px]">
      <Download size={14} aria-hidden />
      <span aria-hidden>Save as</span>
      {BAR_FILES.map((form) => (
        <a
          key={form}
          aria-label={`Save as ${WORDS[form]}`}
          className="text-accent hover:underline"
          download={fileName(instrument.symbol, ` ${timeframe}.${form}`)}
          href={`/api/markets/${encodeURIComponent(instrument.symbol)}/file?${new URLSearchParams({ timeframe, from: firstDate, to: lastDate, form, studies: JSON.stringify(studies) })}`}
        >
          {WORDS[form]}
        </a>
      ))}
    </span>
  );
}
