/** Facts, costs and calendar of an instrument, changed. Runs that were made with those of before keep them. */
import type { InstrumentFile } from "@plan-tester/contract";
import type { Costs, Instrument } from "@plan-tester/core";
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Failure } from "../../ui/states.tsx";
import { CalendarForm } from "./calendar-form.tsx";
import { CurrencyField } from "./currency-field.tsx";

const CLASSES = ["future", "share", "currency", "other"] as const;
const NUMBERS = [
  ["tickSize", "Tick size", ""],
  ["pipSize", "Pip size", "what its traders count in"],
  ["pointValue", "Value of 1.0", "money of a move of one, for one unit"],
  ["minQuantity", "Least size", ""],
  ["quantityStep", "Size step", ""],
] as const satisfies readonly (readonly [keyof Instrument, string, string])[];
const COSTS = [
  ["commissionPerUnit", "Commission per unit and side"],
  ["commissionPerOrder", "Commission per order"],
  ["commissionPercent", "Commission in percent"],
  ["commissionMinimum", "Least commission"],
  ["spreadTicks", "Spread in ticks"],
  ["slippageTicks", "Slippage in ticks"],
  ["financingLong", "A night long, per unit"],
  ["financingShort", "A night short, per unit"],
] as const satisfies readonly (readonly [keyof Costs, string])[];

interface FactsDialogProps {
  readonly instrument: Instrument;
  readonly onClose: () => void;
}

export function FactsDialog({ instrument, onClose }: FactsDialogProps) {
  const [facts, setFacts] = useState(instrument);
  const change = useChange("changeFacts", { shows: true });
  const set = (part: Partial<Instrument>): void => setFacts({ ...facts, ...part });
  const save = async (): Promise<void> => {
    const { symbol } = instrument;
    // An instrument is a file of itself in which nothing is left out.
    if (await change.run({ symbol }, facts as unknown as InstrumentFile)) onClose();
  };
  const money = `${number(facts.tickSize * facts.pointValue, 2)} ${facts.currency}`;
  return (
    <Modal
      title={`Facts of ${instrument.symbol}`}
      size="wide"
      description="Runs that were made before keep the facts they were made with; new ones take these."
      onClose={onClose}
    >
      {change.error ? <Failure error={change.error} /> : null}
      <CheckedForm className="flex flex-col gap-4" onSubmit={() => void save()}>
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
          <Field label="Name" className="col-span-2">
            {(id) => <TextInput id={id} value={facts.name} maxLength={120} onChange={(event) => set({ name: event.target.value })} />}
          </Field>
          <Field label="Class">
            {(id) => (
              <Select id={id} value={facts.class} onChange={(event) => set({ class: event.target.value as Instrument["class"] })}>
                {CLASSES.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </Select>
            )}
          </Field>
          <CurrencyField value={facts.currency} onChange={(currency) => set({ currency })} />
          {NUMBERS.map(([name, label, hint]) => (
            <NumberField key={name} label={label} hint={hint} value={facts[name]} above={0} onChange={(value) => set({ [name]: value })} />
          ))}
          <NumberField
            label="Decimals"
            value={facts.decimals}
            {...{ min: 0, max: 10, whole: true }}
            onChange={(decimals) => set({ decimals })}
          />
          <p className="self-end pb-1 text-[13px] text-soft sm:col-span-2">A tick is worth {money} a unit.</p>
        </div>
        <fieldset className="grid grid-cols-2 gap-3 border-rule border-t pt-3 sm:grid-cols-4">
          <legend className="sr-only">Costs</legend>
          {COSTS.map(([name, label]) => (
            <NumberField
              key={name}
              label={label}
              value={facts.costs[name]}
              {...(name.startsWith("financing") ? {} : { min: 0 })}
              onChange={(value) => set({ costs: { ...facts.costs, [name]: value } })}
            />
          ))}
        </fieldset>
        <CalendarForm symbol={instrument.symbol} calendar={facts.calendar} onChange={(calendar) => set({ calendar })} />
        <Field label="Note">
          {(id) => <TextInput id={id} value={facts.note} maxLength={2000} onChange={(event) => set({ note: event.target.value })} />}
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={change.isRunning}>
            Save
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
