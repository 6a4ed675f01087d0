/** The exit kit that the plan is run under, beside its inputs: none, one of the library, or what has been made of one. */
import type { LibraryKit } from "@plan-tester/contract";
import type { ExitKit } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { Select } from "../../ui/field.tsx";
import { isSameKit } from "../inputs/same-kit.ts";

export interface KitChoiceProps {
  readonly kit: ExitKit | null;
  readonly onChoose: (kit: ExitKit | null) => void;
}

const NONE = "";
const OWN = "own";

function ownName({ name }: ExitKit, kits: readonly Pick<LibraryKit, "name">[]): string {
  const isOfLibrary = kits.some((entry) => entry.name.toLowerCase() === name.trim().toLowerCase());
  return `${name.trim() || "an exit kit"}${isOfLibrary ? ", changed" : ""}`;
}

export function KitChoice({ kit, onChoose }: KitChoiceProps) {
  const { data: kits = [] } = useQuery(queries.kits());
  const current = kit && kits.find((entry) => isSameKit(entry.kit, kit));
  if (!kit && kits.length === 0) return null;
  return (
    <Select
      aria-label="Kit of exits and limits"
      title="The exit kit laid over the plan. Its numbers are in the settings above."
      className="h-6 w-auto max-w-56 text-ellipsis"
      value={kit ? (current?.id ?? OWN) : NONE}
      onChange={({ target }) => onChoose(target.value === NONE ? null : (kits.find(({ id }) => id === target.value)?.kit ?? kit))}
    >
      <option value={NONE}>no exit kit</option>
      {kit && !current ? <option value={OWN}>{ownName(kit, kits)}</option> : null}
      {kits.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </Select>
  );
}
