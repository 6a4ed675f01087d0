/** The fault that a price jumps. */
import { priceJumpSchema } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Select } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { td, tdText } from "../../ui/page.tsx";

const { minimum, maximum } = priceJumpSchema.properties.percent;

export function PriceJumpRow() {
  const watches = useQuery(queries.watches());
  const jumpPrice = useChange("jumpPrice");
  const [chosen, setChosen] = useState("");
  const [percent, setPercent] = useState(-3);
  const active = watches.data?.filter(({ state }) => state !== "ended") ?? [];
  const symbols = [...new Set(active.flatMap(({ settings }) => [settings.symbol, ...settings.alsoOn]))].sort();
  const symbol = symbols.includes(chosen) ? chosen : symbols[0];
  return (
    <tr>
      <td className={td}>Let a price jump</td>
      <td className={td} />
      <td className={td}>
        {symbol ? (
          <CheckedForm
            className="flex items-center gap-2"
            onSubmit={() => void jumpPrice.run({}, { symbol, percent })}
            aria-label="Let a price jump"
          >
            <Select aria-label="Instrument" className="w-24" value={symbol} onChange={({ target }) => setChosen(target.value)}>
              {symbols.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
            <NumberInput aria-label="Percent" className="w-16" min={minimum} max={maximum} value={percent} onChange={setPercent} />
            <span className="w-4 text-soft">%</span>
            <Button type="submit" disabled={jumpPrice.isRunning}>
              Jump
            </Button>
          </CheckedForm>
        ) : (
          <span className="text-soft">No watch is at work.</span>
        )}
      </td>
      <td className={`${tdText} text-soft`}>
        The next minute opens so much higher, below 0 lower, and price goes on from there: a stop in between fills at that open.
      </td>
    </tr>
  );
}
