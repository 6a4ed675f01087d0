/** How the lattice is searched: all of it, or a number of its points by a method. */
import { sweepRequestSchema } from "@plan-tester/contract";
import type { Search, SearchMethod } from "@plan-tester/core";
import { boundsOf } from "../../lib/read-number.ts";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

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
const { properties: ofSearch } = sweepRequestSchema.properties.search;

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
          <NumberField
            label="Variants at most"
            value={search.count}
            {...boundsOf(ofSearch.count)}
            onChange={(count) => onChange({ ...search, count })}
          />
          <NumberField label="Seed" value={search.seed} {...boundsOf(ofSearch.seed)} onChange={(seed) => onChange({ ...search, seed })} />
        </div>
      ) : null}
    </fieldset>
  );
}
