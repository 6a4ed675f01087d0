/** The practice venue's clock and speed. */
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { timeAt } from "../../lib/format.ts";

const SPEEDS = [1, 10, 60, 300, 600];

export function VenueBar() {
  const { data } = useQuery(queries.venue());
  const setVenueSpeed = useChange("setVenueSpeed");
  if (!data) return null;
  return (
    <div className="flex items-center gap-3 text-[13px]">
      <span className="text-soft" role="status">
        {data.connected ? (
          <>
            Practice venue: <strong className="text-ink">{timeAt(data.nowMs, "Atlantic/Faroe")}</strong>
          </>
        ) : (
          "The practice venue is not reached; trying again"
        )}
      </span>
      {data.trouble ? (
        <span role="alert" className="text-loss">
          {data.trouble}
        </span>
      ) : null}
      <fieldset className="flex" aria-label="Speed of the venue">
        {SPEEDS.map((speed) => (
          <button
            key={speed}
            type="button"
            aria-pressed={data.speed === speed}
            className="border border-rule px-2 py-0.5 first:rounded-l last:rounded-r hover:bg-sunk aria-pressed:bg-accent aria-pressed:text-on-accent"
            onClick={() => void setVenueSpeed.run({}, { speed })}
          >
            {speed}×
          </button>
        ))}
      </fieldset>
    </div>
  );
}
