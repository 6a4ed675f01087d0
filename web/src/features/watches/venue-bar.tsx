/** The practice venue's clock: what time it is there, how fast it goes, and whether it waits for plans. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { number, timeAt } from "../../lib/format.ts";

const SPEEDS = [1, 10, 60, 300, 600];
/** A clock that reaches less than this share of its speed says so. */
const REACHED = 0.9;

export function VenueBar() {
  const { data } = useQuery(queries.venue());
  const setVenueClock = useChange("setVenueClock");
  if (!data) return null;
  const { connected, nowMs, speed, pace, holds, trouble } = data;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-[13px]">
      <span className="text-soft" role="status">
        {connected ? (
          <>
            Practice venue: <strong className="text-ink">{timeAt(nowMs, "Atlantic/Faroe")}</strong>
          </>
        ) : (
          "The practice venue is not reached; trying again"
        )}
      </span>
      {trouble ? (
        <span role="alert" className="text-loss">
          {trouble}
        </span>
      ) : null}
      <fieldset className="flex" aria-label="Speed of the venue">
        {SPEEDS.map((offered) => (
          <button
            key={offered}
            type="button"
            aria-pressed={speed === offered}
            className="border border-rule px-2 py-0.5 first:rounded-l last:rounded-r hover:bg-sunk aria-pressed:bg-accent aria-pressed:text-on-accent"
            onClick={() => void setVenueClock.run({}, { speed: offered })}
          >
            {offered}×
          </button>
        ))}
      </fieldset>
      {connected && pace < speed * REACHED ? (
        <span className="text-warn" title="The clock holds while plans answer; so much of the speed is reached.">
          {number(pace)}× of {number(speed)}×
        </span>
      ) : null}
      <Link to="/watches/faults" className="text-soft hover:text-ink hover:underline" title="Make things go wrong at the practice venue">
        Faults
      </Link>
      <label className="flex items-center gap-1.5 text-soft">
        <input type="checkbox" checked={holds} onChange={(event) => void setVenueClock.run({}, { holds: event.target.checked })} />
        <span title="As in a backtest: nobody acts on old bars at any speed. Without it the market waits for nobody, as a real one.">
          clock waits for plans
        </span>
      </label>
    </div>
  );
}
