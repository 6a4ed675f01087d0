/** All bars of an instrument in the timeframe that is shown, as a file. */
import type { Market } from "@plan-tester/contract";
import { BAR_FILES, type BarFile } from "@plan-tester/core";
import { Download } from "lucide-react";
import { fileName } from "../../lib/files.ts";

const WORDS: Readonly<Record<BarFile, string>> = { csv: "CSV", jsonl: "JSON lines", parquet: "Parquet" };

export function SaveBars({ market, timeframe }: { readonly market: Market; readonly timeframe: string }) {
  const { instrument, firstDate, lastDate } = market;
  return (
    <span className="flex items-center gap-1.5 text-[13px]">
      <Download size={14} aria-hidden />
      {BAR_FILES.map((form) => (
        <a
          key={form}
          className="text-accent hover:underline"
          download={fileName(instrument.symbol, ` ${timeframe}.${form}`)}
          href={`/api/markets/${encodeURIComponent(instrument.symbol)}/file?${new URLSearchParams({ timeframe, from: firstDate, to: lastDate, form })}`}
        >
          Save as {WORDS[form]}
        </a>
      ))}
    </span>
  );
}
