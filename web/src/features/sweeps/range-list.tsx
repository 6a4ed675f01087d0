/** What varies: the plan's inputs, and beneath them instrument, timeframe, size and the numbers of the exit kit. */
import type { SweepRange } from "@plan-tester/contract";
import type { InputSpec, InputValue } from "@plan-tester/core";
import { RangeRow } from "./range-row.tsx";

export type Ranges = Readonly<Record<string, SweepRange>>;

export interface RangeListProps {
  readonly specs: readonly InputSpec[];
  /** Settings of the run that can vary too. */
  readonly settings: readonly InputSpec[];
  readonly presentOf: (spec: InputSpec) => InputValue;
  readonly ranges: Ranges;
  readonly onChange: (ranges: Ranges) => void;
}

export function RangeList({ specs, settings, presentOf, ranges, onChange }: RangeListProps) {
  const row = (spec: InputSpec) => (
    <RangeRow
      key={spec.name}
      spec={spec}
      value={presentOf(spec)}
      range={ranges[spec.name] ?? null}
      onChange={(range) => {
        const { [spec.name]: _old, ...rest } = ranges;
        onChange(range ? { ...rest, [spec.name]: range } : rest);
      }}
    />
  );
  const varied = settings.filter(({ name }) => ranges[name]).length;
  return (
    <>
      <fieldset>
        <legend className="pb-1 font-semibold">Inputs to vary</legend>
        {specs.length === 0 ? <p className="text-soft">The plan declares no input that can be varied.</p> : null}
        {specs.map(row)}
      </fieldset>
      <details open={varied > 0}>
        <summary className="cursor-pointer font-semibold">
          Vary the run itself <span className="font-normal text-soft">instrument, timeframe, size, numbers of the exit kit</span>
        </summary>
        {settings.map(row)}
        {settings.some(({ name }) => name.startsWith("kit.")) ? null : (
          <p className="py-1 text-[13px] text-soft">Put an exit kit on the plan to vary its stops, targets, size and limits.</p>
        )}
      </details>
    </>
  );
}
