/** A few words of which one is chosen, behind a word of a sentence. */
export interface ChoiceListProps<Key extends string> {
  readonly label: string;
  /** What can be chosen, with its words. */
  readonly of: Readonly<Record<Key, string>>;
  readonly value: string;
  readonly onChoose: (key: Key) => void;
}

export function ChoiceList<Key extends string>({ label, of, value, onChoose }: ChoiceListProps<Key>) {
  return (
    <fieldset className="max-w-80">
      <legend className="px-1 pb-0.5 text-[12px] text-soft">{label}</legend>
      {(Object.keys(of) as Key[]).map((key) => (
        <button
          key={key}
          type="button"
          aria-pressed={key === value}
          className="block w-full rounded px-2 py-0.5 text-left hover:bg-sunk aria-pressed:bg-accent-wash aria-pressed:font-semibold"
          onClick={() => onChoose(key)}
        >
          {of[key]}
        </button>
      ))}
    </fieldset>
  );
}

/** Words that stand for themselves. */
export const asWords = <Key extends string>(keys: readonly Key[]): Readonly<Record<Key, string>> =>
  Object.fromEntries(keys.map((key) => [key, key])) as unknown as Record<Key, string>;
