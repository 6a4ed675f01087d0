/** Flat regions against lonely peaks: the best variants beside what their neighbours make, one and two steps away. */
import { Lattice } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { number, percent } from "../../lib/format.ts";
import { num, td, th } from "../../ui/page.tsx";
import { Empty } from "../../ui/states.tsx";
import { FigureChoice } from "./figure-choice.tsx";
import { definitionAt, ranked, type SweepViewProps, valueAt } from "./sweep-view.ts";

const SHOWN = 40;
const LOOKED_AT = 2000;
/** A peak whose neighbours keep less than this of it stands alone. */
const LONELY = 0.5;

function regionOf(keeps: number): string {
  if (keeps < LONELY) return "lonely peak";
  if (keeps > 1.2) return "below its neighbours";
  return keeps > 0.8 ? "plateau" : "slope";
}

export function Plateau(props: SweepViewProps) {
  const { inputs, variants, figures, stretches, selected, onSelect } = props;
  const [column, setColumn] = useState(props.aim);
  const [order, setOrder] = useState<"own" | "robust">("robust");
  const lattice = useMemo(() => {
    const places = new Int32Array(variants.length * inputs.length);
    const indexes = inputs.map(({ values }) => new Map(values.map((value, k) => [value, k])));
    variants.forEach((variant, s) => {
      inputs.forEach(({ name }, a) => {
        places[s * inputs.length + a] = indexes[a]!.get(variant[name]!) ?? -1;
      });
    });
    return new Lattice(
      places,
      inputs.map(({ values }) => values.length),
      inputs.map(({ ordered }) => ordered),
    );
  }, [variants, inputs]);
  const { rows, done } = useMemo(() => {
    const view = { variants, figures, stretches };
    const of = (s: number): number => valueAt(view, s, column);
    const more = definitionAt(column).more !== false;
    const all = ranked(view, column);
    // Of many variants only the better ones can be worth a look.
    const best = all.slice(0, LOOKED_AT);
    const found = best.map((s) => ({ s, own: of(s), one: lattice.around(s, 1, of, more), two: lattice.around(s, 2, of, more) }));
    // Equal ones stay in the order of their own figure.
    if (order === "robust") found.sort((a, b) => (more ? -1 : 1) * ((a.one.median ?? a.own) - (b.one.median ?? b.own)));
    return { rows: found.slice(0, SHOWN), done: all.length };
  }, [variants, figures, stretches, column, lattice, order]);
  const { text } = definitionAt(column);
  if (rows.length === 0) return <Empty title="Nothing is done yet" />;
  return (
    <div className="flex h-full flex-col gap-3 overflow-auto p-3">
      <div className="flex flex-wrap items-center gap-4">
        <FigureChoice column={column} stretches={stretches} onChange={setColumn} />
        <fieldset className="flex gap-3 text-soft">
          <legend className="sr-only">Order</legend>
          {(
            [
              ["robust", "by the middle of the neighbours"],
              ["own", "by the variant itself"],
            ] as const
          ).map(([value, label]) => (
            <label key={value} className="flex items-center gap-1">
              <input type="radio" name="plateau order" checked={order === value} onChange={() => setOrder(value)} /> {label}
            </label>
          ))}
        </fieldset>
      </div>
      <table className="text-[13px]">
        <thead>
          <tr>
            {inputs.map(({ name, label }) => (
              <th key={name} className={`${th} ${num}`}>
                {label}
              </th>
            ))}
            <th className={`${th} ${num}`}>Itself</th>
            <th className={`${th} ${num}`}>Middle, 1 step</th>
            <th className={`${th} ${num}`}>Worst, 1 step</th>
            <th className={`${th} ${num}`}>Middle, 2 steps</th>
            <th className={`${th} ${num}`}>Worst, 2 steps</th>
            <th className={`${th} ${num}`}>Kept, 1 step</th>
            <th className={th}>Region</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ s, own, one, two }) => {
            const keeps = own > 0 && one.median !== null && definitionAt(column).more !== false ? one.median / own : null;
            return (
              <tr key={s} aria-selected={s === selected} className={s === selected ? "bg-accent-wash" : "hover:bg-sunk"}>
                {inputs.map(({ name }, k) => (
                  <td key={name} className={`${td} ${num}`}>
                    {k === 0 ? (
                      <button type="button" className="font-semibold hover:underline" onClick={() => onSelect(s)}>
                        {String(variants[s]![name])}
                      </button>
                    ) : (
                      String(variants[s]![name])
                    )}
                  </td>
                ))}
                <td className={`${td} ${num} font-semibold`}>{text(own)}</td>
                {[one.median, one.worst, two.median, two.worst].map((value, k) => (
                  <td key={["m1", "w1", "m2", "w2"][k]} className={`${td} ${num}`}>
                    {value === null ? "–" : text(value)}
                  </td>
                ))}
                <td className={`${td} ${num}`}>{percent(keeps, 0)}</td>
                <td className={td}>{keeps === null ? "–" : regionOf(keeps)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="text-[13px] text-soft">
        A setting that one has reason to believe has neighbours that do about as well. The middle of the neighbours is a better aim than the
        highest number.
        {done > rows.length ? ` These are the first ${number(rows.length)} of ${number(done)} variants` : ""}
        {done > LOOKED_AT ? `; neighbours were looked up for the best ${number(LOOKED_AT)} by the variant itself` : ""}
        {done > rows.length ? "." : ""}
      </p>
    </div>
  );
}
