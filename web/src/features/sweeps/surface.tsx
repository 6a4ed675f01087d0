/** Two inputs against one figure: a heat map whose cells carry their values. Further inputs are held by sliders or shown side by side. */
import type { InputValue } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { Select } from "../../ui/field.tsx";
import { Empty } from "../../ui/states.tsx";
import { FigureChoice } from "./figure-choice.tsx";
import { SurfaceGrid } from "./surface-grid.tsx";
import { definitionAt, isBetter, type SweepInput, type SweepViewProps, valueAt, valueText } from "./sweep-view.ts";

/** A slider at its left end leaves an input at its best. */
const AT_BEST = 0;

export function Surface(props: SweepViewProps) {
  const { inputs, variants, figures, stretches, aim } = props;
  // Along names there is no slope to see: they come last.
  const first = useMemo(() => [...inputs].sort((a, b) => Number(b.ordered) - Number(a.ordered)), [inputs]);
  const [across, setAcross] = useState(first[0]?.name ?? "");
  const [down, setDown] = useState(first[1]?.name ?? "");
  const [panels, setPanels] = useState("");
  const [column, setColumn] = useState(aim);
  const [held, setHeld] = useState<Readonly<Record<string, number>>>({});
  const x = inputs.find(({ name }) => name === across);
  const y = inputs.find(({ name }) => name === down);
  const { others, panel, sliders } = useMemo(() => {
    const rest = inputs.filter(({ name }) => name !== across && name !== down);
    const shown = rest.find(({ name }) => name === panels);
    return { others: rest, panel: shown, sliders: rest.filter((input) => input !== shown) };
  }, [inputs, across, down, panels]);

  /** The best variant of each cell of each panel, among those that the sliders leave. */
  const cells = useMemo(() => {
    const best = new Map<string, number>();
    const fixed = sliders.flatMap(({ name, values }) => (held[name] ? [{ name, value: values[held[name] - 1] }] : []));
    variants.forEach((variant, i) => {
      const value = valueAt({ figures, stretches }, i, column);
      if (Number.isNaN(value) || fixed.some(({ name, value: wanted }) => variant[name] !== wanted)) return;
      const key = cellKey(panel && variant[panel.name], variant[across], variant[down]);
      const known = best.get(key);
      if (known === undefined || isBetter(column, value, valueAt({ figures, stretches }, known, column))) best.set(key, i);
    });
    return best;
  }, [variants, figures, stretches, column, across, down, panel, sliders, held]);

  if (!x || !y) return <Empty title="A surface needs two inputs">This sweep varies one. Vary a second to see how they go together.</Empty>;
  const { label, text } = definitionAt(column);
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const variant of cells.values()) {
    const value = valueAt({ figures, stretches }, variant, column);
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  const grid = { ...props, x, y, column, low, high, isSmall: panel !== undefined };
  return (
    <div className="flex flex-col gap-3 p-3">
      <div className="flex flex-wrap items-center gap-3">
        <InputChoice label="Across" inputs={inputs} value={across} taken={[down]} onChange={setAcross} />
        <InputChoice label="Down" inputs={inputs} value={down} taken={[across]} onChange={setDown} />
        <FigureChoice column={column} stretches={stretches} onChange={setColumn} />
        {others.length > 0 ? (
          <label className="flex items-center gap-2 text-soft">
            Side by side
            <Select value={panel?.name ?? ""} onChange={(event) => setPanels(event.target.value)} className="w-40">
              <option value="">nothing</option>
              {others.map(({ name, label }) => (
                <option key={name} value={name}>
                  {label}
                </option>
              ))}
            </Select>
          </label>
        ) : null}
      </div>
      {sliders.length > 0 ? (
        <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
          {sliders.map((input) => (
            <Slider
              key={input.name}
              input={input}
              at={held[input.name] ?? AT_BEST}
              onChange={(at) => setHeld({ ...held, [input.name]: at })}
            />
          ))}
        </div>
      ) : null}
      {panel ? (
        <div className="flex flex-wrap gap-4">
          {panel.values.map((value) => (
            <section key={String(value)}>
              <h3 className="pb-1 text-[13px]">
                {panel.label} <strong>{valueText(value)}</strong>
              </h3>
              <SurfaceGrid {...grid} variantAt={(a, b) => cells.get(cellKey(value, a, b))} />
            </section>
          ))}
        </div>
      ) : (
        <SurfaceGrid {...grid} variantAt={(a, b) => cells.get(cellKey(undefined, a, b))} />
      )}
      <p className="text-[13px] text-soft">
        {label}
        {low <= high ? ` from ${text(low)} to ${text(high)}` : ""}
        {panel ? ", the same colours throughout" : ""}.{" "}
        {others.length > 0 ? "An input without a value of its own is at its best for each cell." : ""}
      </p>
    </div>
  );
}

const cellKey = (...values: readonly (InputValue | undefined)[]): string => values.map(String).join("|");

interface InputChoiceProps {
  readonly label: string;
  readonly inputs: readonly SweepInput[];
  readonly value: string;
  readonly taken: readonly string[];
  readonly onChange: (name: string) => void;
}

function InputChoice({ label, inputs, value, taken, onChange }: InputChoiceProps) {
  return (
    <label className="flex items-center gap-2 text-soft">
      {label}
      <Select value={value} onChange={(event) => onChange(event.target.value)} className="w-44">
        {inputs.map((input) => (
          <option key={input.name} value={input.name} disabled={taken.includes(input.name)}>
            {input.label}
          </option>
        ))}
      </Select>
    </label>
  );
}

interface SliderProps {
  readonly input: SweepInput;
  /** 0 for its best, else the number of its value from 1 on. */
  readonly at: number;
  readonly onChange: (at: number) => void;
}

function Slider({ input: { label, values }, at, onChange }: SliderProps) {
  const words = at === AT_BEST ? "at its best" : valueText(values[at - 1]);
  return (
    <label className="flex items-center gap-2 text-[13px] text-soft">
      {label}
      <input
        type="range"
        min={0}
        max={values.length}
        value={at}
        aria-valuetext={words}
        className="w-36 accent-(--accent)"
        onChange={(event) => onChange(Number(event.target.value))}
      />
      <strong className="w-20 text-ink">{words}</strong>
    </label>
  );
}
