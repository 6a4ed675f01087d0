/** The form that a plan's declaration makes: label, value, unit, bounds and help; changed values are marked. */
import type { InputSpec, InputValue, InputValues } from "@plan-tester/core";
import { inputProblem } from "@plan-tester/core";
import { RotateCcw } from "lucide-react";
import { useEffect, useId, useState } from "react";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";

export interface InputsFormProps {
  readonly specs: readonly InputSpec[];
  readonly values: InputValues;
  readonly readOnly?: boolean;
  readonly onChange: (values: Record<string, InputValue>) => void;
}

export function InputsForm({ specs, values, readOnly = false, onChange }: InputsFormProps) {
  if (specs.length === 0) return <p className="p-3 text-soft">This plan declares no inputs. Write e.g. inputs: {"{ span: whole(20) }"}.</p>;
  const groups = [...new Set(specs.map((spec) => spec.group))];
  const changed = specs.filter((spec) => spec.name in values && values[spec.name] !== spec.default);
  const set = (name: string, value: InputValue | null): void => {
    const { [name]: _old, ...rest } = values;
    onChange(value === null ? rest : { ...rest, [name]: value });
  };
  return (
    <fieldset disabled={readOnly} className="px-3 pt-1 pb-3" aria-label="Inputs">
      <div className="columns-[200px] gap-x-6">
        {groups.map((group) => (
          <div key={group} className="break-inside-avoid">
            {group ? <h3 className="pt-2 text-[12px] text-soft">{group}</h3> : null}
            {specs
              .filter((spec) => spec.group === group)
              .map((spec) => (
                <InputRow
                  key={spec.name}
                  spec={spec}
                  value={values[spec.name] ?? spec.default}
                  onChange={(value) => set(spec.name, value)}
                />
              ))}
          </div>
        ))}
      </div>
      {changed.length > 0 && !readOnly ? (
        <Button variant="quiet" className="-ml-2 mt-1" onClick={() => onChange({})}>
          <RotateCcw size={13} aria-hidden /> Reset {changed.length === 1 ? "1 changed input" : `${changed.length} changed inputs`}
        </Button>
      ) : null}
    </fieldset>
  );
}

interface InputRowProps {
  readonly spec: InputSpec;
  readonly value: InputValue;
  readonly onChange: (value: InputValue | null) => void;
}

function boundsOf({ min, max }: InputSpec): string {
  if (min === null && max === null) return "";
  return min === null ? `up to ${max}` : max === null ? `from ${min}` : `${min} to ${max}`;
}

function InputRow({ spec, value, onChange }: InputRowProps) {
  const id = useId();
  const changed = value !== spec.default;
  const title = [spec.help, boundsOf(spec), `default ${String(spec.default)}`].filter(Boolean).join(" · ");
  return (
    <div
      className={cx(
        "border-rule border-b",
        spec.kind === "text" ? "flex flex-col pt-1 [&>span]:w-full" : "flex h-8 items-center justify-between gap-2",
      )}
      title={title}
    >
      <label htmlFor={id} className={cx("truncate", changed && "font-semibold")}>
        {spec.label}
        {changed ? <span className="sr-only"> (changed)</span> : null}
      </label>
      <span className="flex items-center gap-1">
        {changed ? (
          <button
            type="button"
            className="rounded p-0.5 text-soft hover:text-ink"
            aria-label={`Reset ${spec.label} to ${String(spec.default)}`}
            onClick={() => onChange(null)}
          >
            <RotateCcw size={12} aria-hidden />
          </button>
        ) : null}
        <InputControl id={id} spec={spec} value={value} onChange={onChange} changed={changed} />
        {spec.unit ? <span className="max-w-20 truncate text-[13px] text-soft">{spec.unit}</span> : null}
      </span>
    </div>
  );
}

const TEXT_KINDS: ReadonlySet<InputSpec["kind"]> = new Set(["time", "text", "instrument", "timeframe"]);

function InputControl({ id, spec, value, changed, onChange }: InputRowProps & { readonly id: string; readonly changed: boolean }) {
  const [text, setText] = useState(String(value));
  useEffect(() => setText(String(value)), [value]);
  const tone = changed ? "text-accent font-semibold" : "font-semibold";
  if (spec.kind === "yes-no")
    return (
      <input
        id={id}
        type="checkbox"
        className="size-4 accent-(--accent)"
        checked={value === true}
        onChange={(event) => onChange(event.target.checked)}
      />
    );
  if (spec.kind === "choice")
    return (
      <select
        id={id}
        className={cx("h-6 rounded bg-transparent text-right", tone)}
        value={String(value)}
        onChange={(event) => onChange(event.target.value)}
      >
        {spec.choices.map((word) => (
          <option key={word}>{word}</option>
        ))}
      </select>
    );
  const isText = TEXT_KINDS.has(spec.kind);
  const parsed: InputValue = isText ? text : Number(text);
  const problem = text.trim() === "" && spec.kind !== "text" ? "Enter a value." : inputProblem(spec, parsed);
  const step = spec.step ?? (spec.kind === "whole" ? 1 : 0.1);
  const nudge = (direction: number): void => {
    if (typeof value !== "number") return;
    const next = Number((value + direction * step).toPrecision(12));
    if (!inputProblem(spec, next)) onChange(next);
  };
  return (
    <input
      id={id}
      inputMode={isText ? "text" : "decimal"}
      className={cx(
        spec.kind === "text"
          ? "w-full text-left font-mono text-[12px]"
          : spec.kind === "instrument"
            ? "w-24 text-right"
            : "w-16 text-right",
        "h-6 rounded bg-transparent px-1 hover:bg-sunk focus:bg-sunk aria-invalid:bg-loss-wash",
        tone,
      )}
      value={text}
      aria-invalid={problem !== null}
      title={problem ?? undefined}
      onChange={(event) => {
        setText(event.target.value);
        const next: InputValue = isText ? event.target.value : Number(event.target.value);
        if ((event.target.value.trim() !== "" || spec.kind === "text") && !inputProblem(spec, next)) onChange(next);
      }}
      onBlur={() => setText(String(value))}
      onKeyDown={(event) => {
        if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          nudge(event.key === "ArrowUp" ? 1 : -1);
        }
      }}
    />
  );
}
