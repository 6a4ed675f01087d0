/** Which part of the run the figures and tables speak of, and which of its trades are listed. */
import { X } from "lucide-react";
import { number } from "../../lib/format.ts";
import { Select } from "../../ui/field.tsx";
import { type EvidenceData, type Stretch, stretchOfDates, type TradeFilter } from "../run-view/view.ts";

export interface StretchRowProps {
  readonly data: EvidenceData | null;
  readonly years: readonly string[];
  readonly stretch: Stretch | null;
  readonly onStretch: (stretch: Stretch | null) => void;
  readonly shown: number;
  readonly all: number;
  readonly filter: TradeFilter | null;
  readonly onFilter: (filter: TradeFilter | null) => void;
}

const chip = "flex h-6 items-center gap-1 rounded bg-accent-wash px-2 text-[13px]";

export function StretchRow({ data, years, stretch, onStretch, shown, all, filter, onFilter }: StretchRowProps) {
  const choose = (value: string): void => {
    if (value === "all" || !data) onStretch(null);
    else if (value !== "own") onStretch(stretchOfDates(value, value, data));
  };
  return (
    <div className="flex min-w-0 flex-wrap items-center gap-2 text-[13px]">
      <Select
        aria-label="Period of the run"
        className="h-6 w-auto"
        value={stretch === null ? "all" : years.includes(stretch.label) ? stretch.label : "own"}
        disabled={!data}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="all">whole run</option>
        {years.map((year) => (
          <option key={year} value={year}>
            {year} only
          </option>
        ))}
        {stretch && !years.includes(stretch.label) ? <option value="own">{stretch.label}</option> : null}
      </Select>
      {stretch ? (
        <button type="button" className={chip} onClick={() => onStretch(null)} aria-label={`Back to the whole run from ${stretch.label}`}>
          {number(shown)} of {number(all)} trades <X size={12} aria-hidden />
        </button>
      ) : null}
      {filter ? (
        <button
          type="button"
          className={chip}
          onClick={() => onFilter(null)}
          aria-label={`List all trades again, not only: ${filter.label}`}
        >
          {filter.label}: {number(filter.ids.size)} <X size={12} aria-hidden />
        </button>
      ) : null}
    </div>
  );
}
