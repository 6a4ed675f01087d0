/** Makes a walk-forward of a sweep: how long settings are chosen on, and how long they are tried after that. */
import { countWindows } from "@plan-tester/contract";
import { number } from "../../lib/format.ts";
import { Field, TextInput } from "../../ui/field.tsx";

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
  const days = (text: string, least: number): number => Math.max(least, Math.round(Number(text)) || least);
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
          <Field label="Sessions to choose on">
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={5}
                value={walk.inSample}
                onChange={(event) => onChange({ ...walk, inSample: days(event.target.value, 5) })}
              />
            )}
          </Field>
          <Field label="Sessions to try on">
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={1}
                value={walk.outOfSample}
                onChange={(event) => onChange({ ...walk, outOfSample: days(event.target.value, 1) })}
              />
            )}
          </Field>
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
