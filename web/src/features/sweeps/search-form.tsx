/** How the lattice is searched: all of it, or a number of its points by a method. */
import type { Search, SearchMethod } from "@plan-tester/core";
import { Field, Select, TextInput } from "../../ui/field.tsx";

const METHODS: readonly { readonly key: SearchMethod | "all"; readonly label: string; readonly hint: string }[] = [
  { key: "all", label: "All of the lattice", hint: "Every combination once." },
  { key: "spread", label: "Spread evenly", hint: "A low-discrepancy sample: no region is left out." },
  {
    key: "coarse to fine",
    label: "Coarse to fine",
    hint: "Wide steps first, then closer around the best. Fewer runs, and the surface stays readable.",
  },
  { key: "evolution", label: "Evolution", hint: "The best settings are crossed and changed, generation after generation." },
  { key: "model", label: "Model", hint: "A model of the surface says where a run promises most. For runs that take long." },
];
const FIRST_COUNT = 400;

export interface SearchFormProps {
  readonly search: Search | null;
  readonly onChange: (search: Search | null) => void;
}

export function SearchForm({ search, onChange }: SearchFormProps) {
  const method = METHODS.find(({ key }) => key === (search?.method ?? "all"))!;
  return (
    <fieldset className="flex flex-col gap-1.5">
      <legend className="pb-1 font-semibold">Search</legend>
      <Field label="Method" hint={method.hint}>
        {(id) => (
          <Select
            id={id}
            value={method.key}
            onChange={(event) =>
              onChange(
                event.target.value === "all"
                  ? null
                  : { count: FIRST_COUNT, seed: 1, ...search, method: event.target.value as SearchMethod },
              )
            }
          >
            {METHODS.map(({ key, label }) => (
              <option key={key} value={key}>
                {label}
              </option>
            ))}
          </Select>
        )}
      </Field>
      {search ? (
        <div className="grid grid-cols-2 gap-2">
          <Field label="Variants at most">
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={1}
                max={200_000}
                value={search.count}
                onChange={(event) => onChange({ ...search, count: Math.max(1, Math.round(Number(event.target.value))) })}
              />
            )}
          </Field>
          <Field label="Seed">
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={0}
                max={1_000_000}
                value={search.seed}
                onChange={(event) => onChange({ ...search, seed: Math.max(0, Math.round(Number(event.target.value))) })}
              />
            )}
          </Field>
        </div>
      ) : null}
    </fieldset>
  );
}
