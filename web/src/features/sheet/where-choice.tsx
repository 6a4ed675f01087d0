/** The bars that a value is taken from: of which timeframe, of which instrument. */
import type { Market } from "@plan-tester/contract";
import type { Where } from "@plan-tester/core";
import { Field, Select } from "../../ui/field.tsx";

const TIMEFRAMES = ["5m", "15m", "30m", "1h", "4h", "1d", "1w"];

export function WhereChoice({
  where,
  markets,
  onChange,
}: {
  readonly where: Where;
  readonly markets: readonly Market[];
  readonly onChange: (where: Where) => void;
}) {
  const timeframes = TIMEFRAMES.includes(where.timeframe) || where.timeframe === "" ? TIMEFRAMES : [where.timeframe, ...TIMEFRAMES];
  return (
    <div className="flex gap-2">
      <Field label="Timeframe">
        {(id) => (
          <Select id={id} value={where.timeframe} onChange={({ target }) => onChange({ ...where, timeframe: target.value })}>
            <option value="">the run's own</option>
            {timeframes.map((timeframe) => (
              <option key={timeframe}>{timeframe}</option>
            ))}
          </Select>
        )}
      </Field>
      <Field label="Instrument">
        {(id) => (
          <Select id={id} value={where.instrument} onChange={({ target }) => onChange({ ...where, instrument: target.value })}>
            <option value="">the run's own</option>
            {markets.map(({ instrument: { symbol } }) => (
              <option key={symbol}>{symbol}</option>
            ))}
          </Select>
        )}
      </Field>
    </div>
  );
}
