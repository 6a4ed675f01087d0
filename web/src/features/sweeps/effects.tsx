/** The effect of each input: for each of its values the middle of the figure over all other inputs, and its spread. */
import { quantile } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { FigureChoice } from "./figure-choice.tsx";
import { definitionAt, type SweepInput, type SweepViewProps, valueAt } from "./sweep-view.ts";

interface Spread {
  readonly value: string;
  readonly count: number;
  readonly levels: readonly [number, number, number];
}

export function Effects(props: SweepViewProps) {
  const [column, setColumn] = useState(props.aim);
  return (
    <div className="flex h-full flex-col gap-4 overflow-auto p-3">
      <FigureChoice column={column} stretches={props.stretches} onChange={setColumn} />
      <div className="grid gap-4 md:grid-cols-2">
        {props.inputs.map((input) => (
          <Effect key={input.name} input={input} column={column} view={props} />
        ))}
      </div>
      <p className="text-[13px] text-soft">
        The mark is the middle of all variants with that value, the band holds the half of them around it. A wide band means that the other
        inputs matter more.
      </p>
    </div>
  );
}

function Effect({ input, column, view }: { readonly input: SweepInput; readonly column: number; readonly view: SweepViewProps }) {
  const { text } = definitionAt(column);
  const { variants, figures, stretches } = view;
  const spreads = useMemo<Spread[]>(() => {
    const byValue = new Map<string, number[]>();
    variants.forEach((variant, i) => {
      const value = valueAt({ figures, stretches }, i, column);
      if (Number.isNaN(value)) return;
      const key = String(variant[input.name]);
      const list = byValue.get(key);
      if (list) list.push(value);
      else byValue.set(key, [value]);
    });
    return input.values.flatMap((given) => {
      const list = byValue.get(String(given))?.sort((a, b) => a - b);
      if (!list) return [];
      return [
        { value: String(given), count: list.length, levels: [quantile(list, 0.25)!, quantile(list, 0.5)!, quantile(list, 0.75)!] as const },
      ];
    });
  }, [variants, figures, stretches, column, input]);
  const low = Math.min(...spreads.map(({ levels }) => levels[0]));
  const high = Math.max(...spreads.map(({ levels }) => levels[2]));
  const share = (value: number): number => ((value - low) / (high - low || 1)) * 100;
  return (
    <section>
      <h3 className="pb-1 font-semibold text-[13px]">{input.label}</h3>
      <table className="w-full text-[12px]">
        <caption className="sr-only">
          {definitionAt(column).label} by {input.label}
        </caption>
        <thead className="text-soft">
          <tr>
            <th className="text-right font-normal">value</th>
            <th className="px-2 text-right font-normal">middle</th>
            <th className="w-2/3 font-normal">
              <span className="sr-only">spread</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {spreads.map(({ value, levels, count }) => (
            <tr key={value} title={`${count} variants, half of them between ${text(levels[0])} and ${text(levels[2])}`}>
              <th scope="row" className="text-right font-normal">
                {value}
              </th>
              <td className="px-2 text-right font-semibold">{text(levels[1])}</td>
              <td aria-hidden>
                <div className="relative h-4 bg-sunk">
                  <div
                    className="absolute top-1 h-2 bg-accent/35"
                    style={{ left: `${share(levels[0])}%`, width: `${share(levels[2]) - share(levels[0])}%` }}
                  />
                  <div className="absolute top-0 h-4 w-0.5 bg-ink" style={{ left: `${share(levels[1])}%` }} />
                </div>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
