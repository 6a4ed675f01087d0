/** Makes a walk-forward of a sweep: how long settings are chosen on, and how long they are tried after that. */
import { countWindows, walkForwardRequestSchema } from "@plan-tester/contract";
import { number } from "../../lib/format.ts";
import { boundsOf } from "../../lib/read-number.ts";
import { NumberField } from "../../ui/number-field.tsx";

const { properties: ofWalk } = walkForwardRequestSchema;

export interface WalkWindows {
  readonly inSample: number;
  readonly outOfSample: number;
  readonly anchored: boolean;
}

export const sessionsIn = (dates: readonly string[], from: string, to: string): number =>
  dates.filter((date) => date >= from && date <= to).length;

export interface WalkForwardPartProps {
  /** Sessions of the period. */
  readonly sessions: number;
  readonly walk: WalkWindows | null;
  readonly onChange: (walk: WalkWindows | null) => void;
}

export function WalkForwardPart({ sessions, walk, onChange }: WalkForwardPartProps) {
  const usual: WalkWindows = {
    inSample: Math.max(5, Math.round(sessions / 3)),
    outOfSample: Math.max(1, Math.round(sessions / 12)),
    anchored: false,
  };
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="sr-only">Walk-forward</legend>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-(--accent)"
          checked={walk !== null}
          onChange={(event) => onChange(event.target.checked ? usual : null)}
        />
        <span>
          <strong className="font-semibold">Walk forward</strong> through the period instead: choose on one stretch, try on the next, move
          on
        </span>
      </label>
      {walk ? (
        <div className="grid grid-cols-1 items-end gap-4 sm:grid-cols-3">
          <NumberField
            label="Sessions to choose on"
            value={walk.inSample}
            {...boundsOf(ofWalk.inSample)}
            onChange={(inSample) => onChange({ ...walk, inSample })}
          />
          <NumberField
            label="Sessions to try on"
            value={walk.outOfSample}
            {...boundsOf(ofWalk.outOfSample)}
            onChange={(outOfSample) => onChange({ ...walk, outOfSample })}
          />
          <label className="flex h-7 items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-(--accent)"
              checked={walk.anchored}
              onChange={(event) => onChange({ ...walk, anchored: event.target.checked })}
            />
            always from the start
          </label>
          <p className="text-[13px] text-soft sm:col-span-3" role="status">
            {number(countWindows(sessions, walk.inSample, walk.outOfSample))} windows in {number(sessions)} sessions. Each begins flat, and
            its studies warm up inside it.
          </p>
        </div>
      ) : null}
    </fieldset>
  );
}
