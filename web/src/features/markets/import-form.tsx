/** How the file is read: a role for each column, the date format and zone, and the facts of the instrument. */

import { COMMON_TIMEFRAMES, type CsvLayout, isOfTicks, timeframeLabel } from "@plan-tester/core";
import { ZONES } from "../../lib/zones.ts";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { asKind, type ColumnRole, roleOf, rolesOf, withRole, wordsOf } from "./column-roles.ts";
import { CurrencyField } from "./currency-field.tsx";

/** What has to be known of an instrument besides its bars; some of it can be guessed from them. */
export interface ImportFacts {
  readonly symbol: string;
  readonly timeframe: string;
  readonly currency: string;
  readonly tickSize: number;
  readonly pointValue: number;
  readonly minQuantity: number;
  readonly quantityStep: number;
}

const NUMBERS = [
  ["tickSize", "Tick size"],
  ["pointValue", "Value of 1.0"],
  ["minQuantity", "Least size"],
  ["quantityStep", "Size step"],
] as const satisfies readonly (readonly [keyof ImportFacts, string])[];

export interface ImportFormProps {
  readonly rows: readonly (readonly string[])[];
  readonly format: CsvLayout;
  readonly facts: ImportFacts;
  readonly onFormat: (format: CsvLayout) => void;
  readonly onFacts: (facts: ImportFacts) => void;
}

const DATE_FORMATS: readonly (readonly [CsvLayout["dateFormat"], string])[] = [
  ["iso", "2025-03-31T07:00"],
  ["ymd", "2025/03/31 07:00"],
  ["dmy", "31.03.2025 07:00"],
  ["mdy", "03/31/2025 07:00"],
  ["named", "31 March 2025 07:00"],
  ["compact", "20250331 070000"],
  ["week", "2025-W14-1"],
  ["unix-s", "seconds since 1970"],
  ["unix-ms", "milliseconds since 1970"],
  ["unix-us", "microseconds since 1970"],
  ["unix-ns", "nanoseconds since 1970"],
  ["serial", "days of a spreadsheet"],
];

export function ImportForm({ rows, format, facts, onFormat, onFacts }: ImportFormProps) {
  const width = Math.max(...rows.map((row) => row.length));
  const isTicks = isOfTicks(format);
  return (
    <>
      <div className="overflow-x-auto border-rule border-y">
        <table className="text-[12px]">
          <thead>
            <tr>
              {Array.from({ length: width }, (_, column) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: columns of a file have no other name
                <th key={column} className="p-1">
                  <Select
                    aria-label={`Column ${column + 1} is`}
                    value={roleOf(format, column) ?? ""}
                    onChange={(event) => onFormat(withRole(format, column, (event.target.value || null) as ColumnRole | null))}
                    className="w-28"
                  >
                    <option value="">not used</option>
                    {rolesOf(format).map((role) => (
                      <option key={role} value={role}>
                        {wordsOf(format, role)}
                      </option>
                    ))}
                  </Select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="font-mono">
            {rows.slice(0, 6).map((row, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows of a preview never move
              <tr key={i} className={i < format.headerLines ? "text-soft" : ""}>
                {row.map((field, column) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: columns of a file have no other name
                  <td key={column} className="max-w-44 truncate px-2 py-0.5">
                    {field}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <Field label="A line is">
          {(id) => (
            <Select
              id={id}
              value={isTicks ? "ticks" : "bars"}
              onChange={(event) => onFormat(asKind(format, event.target.value as "bars" | "ticks", width))}
            >
              <option value="bars">a bar</option>
              <option value="ticks">a tick: a trade or a quote</option>
            </Select>
          )}
        </Field>
        <Field label="Date format">
          {(id) => (
            <Select
              id={id}
              value={format.dateFormat}
              onChange={(event) => onFormat({ ...format, dateFormat: event.target.value as CsvLayout["dateFormat"] })}
            >
              {DATE_FORMATS.map(([value, example]) => (
                <option key={value} value={value}>
                  {example}
                </option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="Decimal sign">
          {(id) => (
            <Select
              id={id}
              value={format.decimal}
              onChange={(event) => onFormat({ ...format, decimal: event.target.value as CsvLayout["decimal"] })}
            >
              <option value=".">point: 1,234.5</option>
              <option value=",">comma: 1.234,5</option>
            </Select>
          )}
        </Field>
        <Field label="Zone of the times">
          {(id) => (
            <Select id={id} value={format.zone} onChange={(event) => onFormat({ ...format, zone: event.target.value })}>
              {ZONES.map((zone) => (
                <option key={zone}>{zone}</option>
              ))}
            </Select>
          )}
        </Field>
        {isTicks ? null : (
          <>
            <Field label="A time marks the bar's">
              {(id) => (
                <Select
                  id={id}
                  value={format.stamp}
                  onChange={(event) => onFormat({ ...format, stamp: event.target.value as CsvLayout["stamp"] })}
                >
                  <option value="open">open</option>
                  <option value="close">close</option>
                </Select>
              )}
            </Field>
            <Field label="Bars of">
              {(id) => (
                <Select id={id} value={facts.timeframe} onChange={(event) => onFacts({ ...facts, timeframe: event.target.value })}>
                  {[...new Set<string>([...COMMON_TIMEFRAMES, facts.timeframe])].map((timeframe) => (
                    <option key={timeframe} value={timeframe}>
                      {timeframeLabel(timeframe)}
                    </option>
                  ))}
                </Select>
              )}
            </Field>
          </>
        )}
        <Field label="Symbol">
          {(id) => (
            <TextInput
              id={id}
              value={facts.symbol}
              maxLength={24}
              onChange={(event) => onFacts({ ...facts, symbol: event.target.value.trim() })}
            />
          )}
        </Field>
        <CurrencyField value={facts.currency} onChange={(currency) => onFacts({ ...facts, currency })} />
        {NUMBERS.map(([fact, label]) => (
          <NumberField key={fact} label={label} value={facts[fact]} above={0} onChange={(value) => onFacts({ ...facts, [fact]: value })} />
        ))}
        <NumberField
          label="Header lines"
          value={format.headerLines}
          {...{ min: 0, max: 10, whole: true }}
          onChange={(headerLines) => onFormat({ ...format, headerLines })}
        />
      </div>
    </>
  );
}
