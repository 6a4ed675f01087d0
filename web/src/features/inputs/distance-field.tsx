/** A distance with its unit; a multiple of a study when one is named. */
import { DISTANCE_UNITS, type DistanceUnit, type KitDistance } from "@plan-tester/core";
import { useId, useState } from "react";
import { Select, TextInput } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { distanceWords, useKitToday } from "./kit-today.tsx";

export interface DistanceFieldProps {
  readonly label: string;
  readonly value: KitDistance | null;
  /** Whether it may be given in multiples of the stop loss. */
  readonly hasR?: boolean;
  /** What is kept may be nothing, or a loss. */
  readonly canBeNegative?: boolean;
  /** The stop loss that R is measured by. */
  readonly stopLoss?: KitDistance | null;
  readonly onChange: (value: KitDistance | null) => void;
}

const MULTIPLE = "multiple of";
const FIRST_STUDY = "atr(14)";

const unitOf = (value: KitDistance | null): string | undefined => (value?.study ? MULTIPLE : value?.unit);

export function DistanceField({ label, value, hasR = false, canBeNegative = false, stopLoss = null, onChange }: DistanceFieldProps) {
  const id = useId();
  const words = distanceWords(value, { stopLoss }, useKitToday());
  const units: readonly (DistanceUnit | typeof MULTIPLE)[] = [
    ...DISTANCE_UNITS.filter((unit) => unit !== "price" && (hasR || unit !== "R")),
    MULTIPLE,
  ];
  // Without a number there is no distance; its unit and study wait for the next one.
  const [wanted, setWanted] = useState({ unit: unitOf(value) ?? "ticks", study: value?.study ?? FIRST_STUDY });
  const unit = unitOf(value) ?? wanted.unit;
  const amount = value?.value ?? null;
  const make = (nextUnit: string, next: number | null, study = wanted.study): void => {
    setWanted({ unit: nextUnit, study });
    if (next === null) onChange(null);
    else if (nextUnit === MULTIPLE) onChange({ unit: "points", value: next, study });
    else onChange({ unit: nextUnit as DistanceUnit, value: next });
  };
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="text-[13px] text-soft">
        {label}
      </label>
      <NumberInput
        id={id}
        className="w-20"
        placeholder="none"
        value={amount}
        {...(canBeNegative ? {} : { above: 0 })}
        onChange={(next) => make(unit, next)}
        onEmpty={() => make(unit, null)}
      >
        <Select aria-label={`${label}, unit`} value={unit} onChange={({ target }) => make(target.value, amount)}>
          {units.map((word) => (
            <option key={word}>{word}</option>
          ))}
        </Select>
      </NumberInput>
      {value?.study === undefined ? null : (
        <TextInput
          aria-label={`${label}, study`}
          className="font-mono text-[12px]"
          defaultValue={value.study}
          maxLength={400}
          onChange={({ target }) => target.value.trim() !== "" && make(MULTIPLE, amount, target.value)}
        />
      )}
      {words === "" ? null : <p className="text-[12px] text-soft">{words}</p>}
    </div>
  );
}
