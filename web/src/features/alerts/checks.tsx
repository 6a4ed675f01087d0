/** Several of a list, shown as words that open the list. */
import { Popover } from "radix-ui";

export interface CheckOption<T extends string> {
  readonly value: T;
  readonly label: string;
  readonly hint: string;
}

export interface ChecksProps<T extends string> {
  readonly label: string;
  /** What it says where none is chosen. */
  readonly none: string;
  readonly options: readonly CheckOption<T>[];
  readonly chosen: readonly T[];
  readonly onChange: (chosen: T[]) => void;
}

export function Checks<T extends string>({ label, none, options, chosen, onChange }: ChecksProps<T>) {
  const taken = options.filter(({ value }) => chosen.includes(value));
  const words = taken.length === options.length && taken.length > 3 ? "everything" : taken.map((option) => option.label).join(", ");
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${label}: ${words || none}`}
        className="border-accent border-b border-dotted text-left text-accent hover:bg-sunk"
      >
        {words || none}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label={label}
          className="z-50 flex max-h-96 w-80 flex-col gap-1 overflow-auto rounded-md border border-rule bg-sheet p-3 shadow-(--shadow)"
        >
          {options.map(({ value, label: text, hint }) => (
            <label key={value} className="flex items-baseline gap-2">
              <input
                type="checkbox"
                checked={chosen.includes(value)}
                onChange={({ target }) =>
                  onChange(options.map((one) => one.value).filter((one) => (one === value ? target.checked : chosen.includes(one))))
                }
              />
              <span>
                {text}
                {hint ? <span className="block text-[12px] text-soft">{hint}</span> : null}
              </span>
            </label>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
