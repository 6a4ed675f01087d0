/** A number that is taken as it is written. What does not fit stays there, with a word on why, and changes nothing. */
import { type KeyboardEvent, type ReactNode, useId, useState } from "react";
import { type NumberBounds, numberProblem, readNumber } from "../lib/read-number.ts";
import { Field, TextInput } from "./field.tsx";

export interface NumberInputProps extends Omit<NumberBounds, "canBeEmpty"> {
  readonly id?: string;
  readonly "aria-label"?: string;
  readonly value: number | null;
  readonly placeholder?: string;
  readonly disabled?: boolean;
  readonly className?: string;
  readonly onChange: (value: number) => void;
  /** It may be emptied. */
  readonly onEmpty?: () => void;
  /** Stands beside it. */
  readonly children?: ReactNode;
}

const textOf = (value: number | null): string => (value === null ? "" : String(value));

export function NumberInput({ value, placeholder, disabled, className, onChange, onEmpty, children, ...rest }: NumberInputProps) {
  const { id, whole = false } = rest;
  const bounds: NumberBounds = { ...rest, canBeEmpty: onEmpty !== undefined };
  /** What was written while the value was, or became, `of`: another value from elsewhere is shown as it is. */
  const [written, setWritten] = useState<{ readonly text: string; readonly of: number | null } | null>(null);
  const [isHere, setHere] = useState(false);
  const problemId = useId();
  const text = written && Object.is(written.of, value) ? written.text : textOf(value);
  const wrong = disabled ? "" : numberProblem(text, bounds);
  // Nothing, while it is there to be written over, needs no words yet.
  const problem = text.trim() === "" && isHere ? "" : wrong;
  const write = (next: string): void => {
    const number = readNumber(next);
    const fits = numberProblem(next, bounds) === "";
    setWritten({ text: next, of: fits ? number : value });
    if (!fits || Object.is(number, value)) return;
    if (number === null) onEmpty?.();
    else onChange(number);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const direction = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    const number = readNumber(text);
    if (!direction || number === null || Number.isNaN(number)) return;
    event.preventDefault();
    // A step of the last digit that is written.
    const decimals = whole ? 0 : (text.split(".")[1]?.length ?? 0);
    const next = (number + direction * 10 ** -decimals).toFixed(decimals);
    if (numberProblem(next, bounds) === "") write(next);
  };
  return (
    <span className="flex flex-col">
      <span className="flex gap-1">
        <TextInput
          {...(id ? { id } : {})}
          aria-label={rest["aria-label"]}
          role="spinbutton"
          inputMode="decimal"
          autoComplete="off"
          aria-valuenow={value ?? undefined}
          aria-invalid={wrong !== ""}
          aria-describedby={problem ? problemId : undefined}
          className={className}
          placeholder={placeholder}
          disabled={disabled}
          value={text}
          onChange={(event) => write(event.target.value)}
          onFocus={() => setHere(true)}
          onBlur={() => setHere(false)}
          onKeyDown={onKeyDown}
        />
        {children}
      </span>
      {problem ? (
        <span id={problemId} role="alert" className="mt-1 max-w-56 text-[12px] text-loss leading-tight">
          {problem}
        </span>
      ) : null}
    </span>
  );
}

export interface NumberFieldProps extends Omit<NumberInputProps, "id" | "aria-label"> {
  readonly label: string;
  readonly hint?: string;
}

/** The same under a label. */
export function NumberField({ label, hint, ...input }: NumberFieldProps) {
  return (
    <Field label={label} {...(hint === undefined ? {} : { hint })}>
      {(id) => <NumberInput {...input} id={id} />}
    </Field>
  );
}
