/** Fields of a mark: what is written is taken when one leaves them, or by Enter. */
import { toast } from "sonner";
import { TextInput } from "../../ui/field.tsx";

interface LeftTextProps {
  readonly label: string;
  readonly value: string;
  /** @returns false where it is not taken: what was there comes back */
  readonly onValue: (text: string) => boolean | undefined;
}

export function LeftText({ label, value, onValue }: LeftTextProps) {
  const take = (field: HTMLInputElement): void => {
    if (field.value !== value && onValue(field.value) === false) field.value = value;
  };
  return (
    <TextInput
      key={value}
      aria-label={label}
      className="h-6 w-full min-w-16"
      maxLength={400}
      defaultValue={value}
      onBlur={({ target }) => take(target)}
      onKeyDown={(event) => {
        // Leaving it is what takes it.
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}

interface PriceTextProps {
  readonly label: string;
  readonly value: number | null;
  readonly decimals: number;
  readonly onValue: (price: number | null) => void;
}

/** A price, or none where nothing is written. */
export function PriceText({ label, value, decimals, onValue }: PriceTextProps) {
  const take = (text: string): boolean => {
    const price = text.trim() === "" ? null : Number(text);
    if (price !== null && !(price > 0 && Number.isFinite(price))) {
      toast.error(`"${text}" is no price. Write a number above 0, or nothing for none.`);
      return false;
    }
    if (price !== value) onValue(price);
    return true;
  };
  return <LeftText label={label} value={value === null ? "" : value.toFixed(decimals)} onValue={take} />;
}
