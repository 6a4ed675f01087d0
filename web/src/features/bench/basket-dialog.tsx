/** Chooses the instruments of a basket: the same plan on each, one run each. */
import type { Market } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";

export interface BasketDialogProps {
  readonly title: string;
  readonly symbol: string;
  readonly markets: readonly Market[];
  readonly onClose: () => void;
  readonly onStart: (symbols: readonly string[]) => void;
}

export function BasketDialog({ title, symbol, markets, onClose, onStart }: BasketDialogProps) {
  const [chosen, setChosen] = useState<readonly string[]>(markets.map(({ instrument }) => instrument.symbol));
  const { data: lists = [] } = useQuery(queries.instrumentLists());
  const classes = [...new Set(markets.map(({ instrument }) => instrument.class))];
  const toggle = (name: string, on: boolean): void => setChosen(on ? [...chosen, name] : chosen.filter((other) => other !== name));
  return (
    <Modal
      title={`Run ${title} on a basket`}
      description="The plan as it is on the Bench, with its settings, on each instrument by itself. The runs are kept and set side by side."
      onClose={onClose}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onStart(chosen);
          onClose();
        }}
      >
        <div className="flex flex-wrap gap-1">
          <Button onClick={() => setChosen(markets.map(({ instrument }) => instrument.symbol))}>All</Button>
          {classes.map((kind) => (
            <Button
              key={kind}
              onClick={() =>
                setChosen(markets.filter(({ instrument }) => instrument.class === kind).map(({ instrument }) => instrument.symbol))
              }
            >
              Every {kind}
            </Button>
          ))}
          {lists.map((list) => (
            <Button
              key={list.id}
              onClick={() => setChosen(list.symbols.filter((one) => markets.some(({ instrument }) => instrument.symbol === one)))}
            >
              {list.name}
            </Button>
          ))}
          <Button onClick={() => setChosen([symbol])}>Only {symbol}</Button>
        </div>
        <fieldset className="max-h-72 overflow-auto">
          <legend className="sr-only">Instruments</legend>
          {markets.map(({ instrument }) => (
            <label key={instrument.symbol} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={chosen.includes(instrument.symbol)}
                onChange={(event) => toggle(instrument.symbol, event.target.checked)}
              />
              <span className="w-20 font-semibold">{instrument.symbol}</span>
              <span className="text-soft">{instrument.name}</span>
            </label>
          ))}
        </fieldset>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={chosen.length === 0}>
            Start {count(chosen.length, "run")}
          </Button>
        </div>
      </form>
    </Modal>
  );
}
