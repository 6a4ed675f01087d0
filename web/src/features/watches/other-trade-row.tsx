/** The fault that something else trades under a watch's name. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Select } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { td, tdText } from "../../ui/page.tsx";

export function OtherTradeRow() {
  const watches = useQuery(queries.watches());
  const markets = useMarkets();
  const tradeBesideWatch = useChange("tradeBesideWatch");
  const [chosen, setChosen] = useState("");
  const [side, setSide] = useState<1 | -1>(1);
  const [quantity, setQuantity] = useState<number | null>(null);
  const active = watches.data?.filter(({ state }) => state !== "ended") ?? [];
  const watch = active.find(({ id }) => id === chosen) ?? active[0];
  const least = (watch && instrumentOf(markets, watch.settings.symbol)?.minQuantity) ?? 1;
  const send = async (): Promise<void> => {
    if (watch) await tradeBesideWatch.run({ id: watch.id }, { symbol: watch.settings.symbol, side, quantity: quantity ?? least });
  };
  return (
    <tr>
      <td className={td}>Let another trade</td>
      <td className={td} />
      <td className={td}>
        {watch ? (
          <CheckedForm className="flex items-center gap-2" onSubmit={() => void send()} aria-label="Let another trade">
            <Select aria-label="Watch" className="w-40" value={watch.id} onChange={({ target }) => setChosen(target.value)}>
              {active.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Select>
            <Select aria-label="Side" className="w-auto" value={side} onChange={({ target }) => setSide(Number(target.value) as 1 | -1)}>
              <option value={1}>buy</option>
              <option value={-1}>sell</option>
            </Select>
            <NumberInput aria-label="Units" className="w-16" min={least} max={1e12} value={quantity ?? least} onChange={setQuantity} />
            <Button type="submit" disabled={tradeBesideWatch.isRunning}>
              Send
            </Button>
          </CheckedForm>
        ) : (
          <span className="text-soft">No watch is at work.</span>
        )}
      </td>
      <td className={`${tdText} text-soft`}>
        Another client gives an order at market under the watch's name{watch ? `, on ${watch.settings.symbol}` : ""}: what its plan did not
        ask for is told, and taken or closed.
      </td>
    </tr>
  );
}
