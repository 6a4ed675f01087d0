/** Where bars go that are imported: to those of an instrument there is, or in their place. */
import type { Market } from "@plan-tester/contract";
import { dayAt, number } from "../../lib/format.ts";

export interface ImportPlaceProps {
  readonly market: Market | undefined;
  readonly mode: "replace" | "add";
  readonly onMode: (mode: "replace" | "add") => void;
}

export function ImportPlace({ market, mode, onMode }: ImportPlaceProps) {
  if (market?.origin !== "import") return null;
  const { instrument, bars, firstMs, lastMs } = market;
  const choices = [
    ["add", "Add to them; what both have is compared first"],
    ["replace", "Take the place of all of them"],
  ] as const;
  return (
    <fieldset className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
      <legend className="sr-only">Bars there are</legend>
      <span>
        {instrument.symbol} has {number(bars)} bars from {dayAt(firstMs, "UTC")} to {dayAt(lastMs, "UTC")}.
      </span>
      {choices.map(([choice, words]) => (
        <label key={choice} className="flex items-center gap-1.5">
          <input type="radio" name="place" checked={mode === choice} onChange={() => onMode(choice)} />
          {words}
        </label>
      ))}
    </fieldset>
  );
}
