/** What is tolerated, on which account. */
import { currencyWord } from "../../data/markets.ts";
import { NumberField } from "../../ui/number-field.tsx";
import type { FallKind, SizeTerms } from "./falls.ts";

export interface Wanted extends SizeTerms {
  readonly fall: FallKind;
  /** null: the account of the run. */
  readonly account: number | null;
}

interface TermsProps {
  readonly wanted: Wanted;
  readonly account: number;
  readonly currency: string;
  readonly onChange: (wanted: Wanted) => void;
}

export function Terms({ wanted, account, currency, onChange }: TermsProps) {
  return (
    <div className="grid max-w-2xl grid-cols-3 items-end gap-3">
      <NumberField
        label="Tolerated fall, % of the balance"
        value={wanted.tolerated}
        above={0}
        max={100}
        onChange={(tolerated) => onChange({ ...wanted, tolerated })}
      />
      <NumberField
        label="Added for a worse future, %"
        value={wanted.allowance}
        min={0}
        max={500}
        onChange={(allowance) => onChange({ ...wanted, allowance })}
      />
      <NumberField
        label={`Account, ${currencyWord(currency)}`}
        value={account}
        above={0}
        onChange={(next) => onChange({ ...wanted, account: next })}
      />
    </div>
  );
}
