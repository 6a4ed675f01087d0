/** Exits of an entry, all that there are: stop, target, trail, break-even, a ladder of locks, time limit, flat. */
import type { KitDistance, KitExits } from "@plan-tester/core";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { DistanceField } from "./distance-field.tsx";

export interface ExitsFieldsProps {
  readonly exits: KitExits;
  /** Put ahead of labels where both sides have exits of their own. */
  readonly side?: "Long" | "Short";
  /** Whether it can be flat before weekends too, and at the close itself. */
  readonly hasWeek?: boolean;
  readonly onChange: (exits: KitExits) => void;
}

const ZERO: KitDistance = { unit: "points", value: 0 };
const FIRST_LOCK = { after: { unit: "R", value: 1 }, keep: ZERO } as const;

export function ExitsFields({ exits, side, hasWeek = true, onChange }: ExitsFieldsProps) {
  const put = (part: Partial<KitExits>): void => onChange({ ...exits, ...part });
  const named = (label: string): string => (side ? `${side}: ${label.charAt(0).toLowerCase()}${label.slice(1)}` : label);
  const { breakEven, flat, trail, timeLimit, locks } = exits;
  const timeUnit = timeLimit && "minutes" in timeLimit ? "minutes" : "bars";
  const limitTime = (unit: string, value: number): void =>
    put({ timeLimit: unit === "minutes" ? { minutes: value } : { bars: Math.round(value) } });
  return (
    <div className="flex w-[29.5rem] max-w-full flex-col gap-2">
      <div className="grid grid-cols-2 gap-2">
        <DistanceField label={named("Stop loss")} value={exits.stopLoss} onChange={(stopLoss) => put({ stopLoss })} />
        <DistanceField label={named("Target")} value={exits.target} hasR stopLoss={exits.stopLoss} onChange={(target) => put({ target })} />
        <DistanceField
          label={named("Trail")}
          value={trail?.distance ?? null}
          hasR
          stopLoss={exits.stopLoss}
          onChange={(distance) => put({ trail: distance && { after: null, step: null, ...trail, distance } })}
        />
        <DistanceField
          label={named("Break-even after")}
          value={breakEven?.after ?? null}
          hasR
          stopLoss={exits.stopLoss}
          onChange={(after) => put({ breakEven: after && { after, keep: breakEven?.keep ?? ZERO } })}
        />
        {trail ? (
          <>
            <DistanceField
              label={named("Trail starts at a profit of")}
              value={trail.after}
              hasR
              stopLoss={exits.stopLoss}
              onChange={(after) => put({ trail: { ...trail, after } })}
            />
            <DistanceField
              label={named("Trail moves in steps of")}
              value={trail.step}
              hasR
              stopLoss={exits.stopLoss}
              onChange={(step) => put({ trail: { ...trail, step } })}
            />
          </>
        ) : null}
        {breakEven ? (
          <DistanceField
            label={named("Break-even keeps")}
            value={breakEven.keep}
            hasR
            stopLoss={exits.stopLoss}
            canBeNegative
            onChange={(keep) => put({ breakEven: { ...breakEven, keep: keep ?? ZERO } })}
          />
        ) : null}
      </div>
      {locks.map((lock, i) => {
        const change = (part: Partial<typeof lock>): void => put({ locks: locks.map((one, k) => (k === i ? { ...one, ...part } : one)) });
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a lock is known by its place in the ladder
          <div key={i} className="grid grid-cols-[1fr_1fr_auto] items-start gap-2">
            <DistanceField
              label={named(`Lock ${i + 1}: after a profit of`)}
              value={lock.after}
              hasR
              stopLoss={exits.stopLoss}
              onChange={(after) => after && change({ after })}
            />
            <DistanceField
              label={named(`Lock ${i + 1} keeps`)}
              value={lock.keep}
              hasR
              stopLoss={exits.stopLoss}
              canBeNegative
              onChange={(keep) => change({ keep: keep ?? ZERO })}
            />
            <Button
              variant="danger"
              className="mt-[1.4rem]"
              aria-label={named(`Remove lock ${i + 1}`)}
              onClick={() => put({ locks: locks.filter((_one, k) => k !== i) })}
            >
              Remove
            </Button>
          </div>
        );
      })}
      {locks.length < 20 ? (
        <Button className="self-start" onClick={() => put({ locks: [...locks, locks.at(-1) ?? FIRST_LOCK] })}>
          {named("Add a lock")}
        </Button>
      ) : null}
      <div className="grid grid-cols-[1fr_1fr_1.5fr_1fr] items-end gap-2">
        <NumberField
          label={named("Time limit")}
          value={timeLimit ? ("bars" in timeLimit ? timeLimit.bars : timeLimit.minutes) : null}
          placeholder="none"
          {...(timeUnit === "bars" ? BOUNDS.timeLimitBars : { above: 0 })}
          onChange={(value) => limitTime(timeUnit, value)}
          onEmpty={() => put({ timeLimit: null })}
        />
        <Field label={named("counted in")}>
          {(field) => (
            <Select
              id={field}
              value={timeUnit}
              disabled={!timeLimit}
              onChange={({ target }) => timeLimit && limitTime(target.value, "bars" in timeLimit ? timeLimit.bars : timeLimit.minutes)}
            >
              <option>bars</option>
              <option>minutes</option>
            </Select>
          )}
        </Field>
        <Field label={named("Flat")}>
          {(field) => (
            <Select
              id={field}
              value={flat?.of ?? "never"}
              onChange={({ target }) =>
                put({ flat: target.value === "never" ? null : { minutes: flat?.minutes ?? 15, of: target.value as "session" | "week" } })
              }
            >
              <option value="never">when its exits say</option>
              <option value="session">before each close</option>
              {hasWeek ? <option value="week">before weekends</option> : null}
            </Select>
          )}
        </Field>
        <NumberField
          label={named(hasWeek ? "Minutes before, 0: at it" : "Minutes before")}
          value={flat?.minutes ?? null}
          disabled={!flat}
          {...BOUNDS.flatMinutes}
          {...(hasWeek ? {} : { min: 1 })}
          onChange={(minutes) => flat && put({ flat: { ...flat, minutes } })}
        />
      </div>
    </div>
  );
}
