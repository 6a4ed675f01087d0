/** One distance of prices in every unit, at a price and for a size: any of them can be written. */
import type { Market } from "@plan-tester/contract";
import { inUnits, PRICE_UNITS, type PriceUnit } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { NumberField } from "../../ui/number-field.tsx";

const DIGITS = 8;

export function PriceConverter({ market }: { readonly market: Market }) {
  const { instrument } = market;
  const history = useQuery(queries.history(instrument.symbol)).data;
  const [written, setWritten] = useState<{ readonly amount: number; readonly unit: PriceUnit }>({ amount: 10, unit: "ticks" });
  const [price, setPrice] = useState<number | null>(null);
  const [quantity, setQuantity] = useState(Math.max(1, instrument.minQuantity));
  const at = price ?? history?.closes.at(-1) ?? 100;
  const all = inUnits(written.amount, written.unit, instrument, at, quantity);
  const label = (unit: PriceUnit): string =>
    unit === "money" ? instrument.currency : unit === "percent" ? "Percent" : unit[0]!.toUpperCase() + unit.slice(1);
  return (
    <section aria-label="Converter">
      <h2 className="mb-1 font-semibold">What a move is worth</h2>
      <div className="flex flex-wrap items-end gap-3 [&_input]:w-28">
        {PRICE_UNITS.map((unit) => (
          <NumberField
            key={unit}
            label={label(unit)}
            value={Number(all[unit].toFixed(DIGITS))}
            onChange={(amount) => setWritten({ amount, unit })}
          />
        ))}
        <NumberField label="at a price of" value={at} above={0} onChange={setPrice} />
        <NumberField label="for a size of" value={quantity} above={0} onChange={setQuantity} />
      </div>
    </section>
  );
}
