/** Which days a run is made on: fixed ones, or such as move with the data. */
import { daysOf, MOVING_UNITS, type MovingUnit, type RunSettings } from "@plan-tester/contract";
import { useEffect } from "react";
import { count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { ChoiceList } from "../../ui/choice-list.tsx";
import { Select } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";

type Period = RunSettings["period"];

const CHOICES = {
  days: "from one day to another",
  all: "of all there is",
  "to the end": "from one day to the end of the data",
  "year to date": "of the year to date",
} as const;

const isLast = (period: Period): boolean => period?.startsWith("last ") ?? false;

function lastOf(period: Period): { readonly count: number; readonly unit: MovingUnit } {
  const [, number, unit] = (isLast(period) ? period! : "last 3 months").split(" ") as [string, string, MovingUnit];
  return { count: Number(number), unit };
}

/** As it stands ahead of the days: "of the last 3 months,". */
export function periodWords(period: Period): string {
  if (!period) return "from";
  if (period === "to the end") return "up to the end of the data, from";
  if (!isLast(period)) return `${CHOICES[period as keyof typeof CHOICES]},`;
  const { count: number, unit } = lastOf(period);
  return `of the last ${number === 1 ? unit.slice(0, -1) : count(number, unit.slice(0, -1))},`;
}

export interface PeriodFormProps {
  readonly period: Period;
  readonly onChange: (period: Exclude<Period, undefined>) => void;
  readonly onDone: () => void;
}

export function PeriodForm({ period, onChange, onDone }: PeriodFormProps) {
  const last = lastOf(period);
  const take = (number: number, unit: MovingUnit): void => onChange(`last ${number} ${unit}`);
  return (
    <div className="flex flex-col gap-2">
      <ChoiceList
        label="Bars"
        of={CHOICES}
        value={period ?? "days"}
        onChoose={(key) => {
          onChange(key === "days" ? null : key);
          onDone();
        }}
      />
      <div className="flex items-center gap-2 border-rule border-t px-2 pt-2">
        of the last
        <NumberInput
          aria-label="How many"
          className="w-14"
          value={last.count}
          whole
          min={1}
          max={999}
          onChange={(number) => take(number, last.unit)}
        />
        <Select
          aria-label="Weeks, months or years"
          className="w-auto"
          value={last.unit}
          onChange={({ target }) => take(last.count, target.value as MovingUnit)}
        >
          {MOVING_UNITS.map((unit) => (
            <option key={unit}>{unit}</option>
          ))}
        </Select>
        {isLast(period) ? null : <Button onClick={() => take(last.count, last.unit)}>Take</Button>}
      </div>
      <p className="max-w-72 px-2 text-[12px] text-soft">
        All but the first move with the data, and end ahead of what is held out. A run keeps the days that it was made on.
      </p>
    </div>
  );
}

/** Moves the days of a draft with the data. */
export function useMovingPeriod(
  settings: RunSettings,
  market: { readonly firstDate: string; readonly lastDate: string } | undefined,
  reservedFrom: string | undefined,
  change: (part: { readonly settings: RunSettings }) => void,
): void {
  const [firstDate, lastDate] = [market?.firstDate, market?.lastDate];
  useEffect(() => {
    const { period, from, to } = settings;
    if (!period || !firstDate || !lastDate || reservedFrom === undefined) return;
    const days = daysOf(period, from, { firstDate, lastDate, reservedFrom });
    if (days.from !== from || days.to !== to) change({ settings: { ...settings, ...days } });
  }, [settings, firstDate, lastDate, reservedFrom, change]);
}
