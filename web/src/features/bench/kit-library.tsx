/** The workspace's exit kits: take one, put this one among them, see who uses them. */
import type { KitBody, LibraryKit } from "@plan-tester/contract";
import type { ExitKit } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Field, inputClass, TextInput } from "../../ui/field.tsx";
import { isSameKit } from "../inputs/same-kit.ts";

export interface KitLibraryProps {
  readonly kit: ExitKit | null;
  readonly onUse: (kit: ExitKit) => void;
}

const usedWords = ({ usedBy }: LibraryKit): string => {
  const variants = usedBy.reduce((sum, use) => sum + use.variants, 0);
  if (usedBy.length === 0) return "not in use";
  return `${count(usedBy.length, "plan")}${variants > 0 ? `, ${count(variants, "variant")}` : ""}`;
};

export function KitLibrary({ kit, onUse }: KitLibraryProps) {
  const { data: kits = [], error } = useQuery(queries.kits());
  const createKit = useChange("createKit");
  const replaceKit = useChange("replaceKit");
  const known = kits.find(({ name }) => name.toLowerCase() === kit?.name.trim().toLowerCase());
  const name = kit?.name.trim() ?? "";
  const keep = (): void => {
    if (!kit) return;
    const body: KitBody = { name, description: known?.description ?? "", kit };
    void (known ? replaceKit.run({ id: known.id }, body) : createKit.run({}, body));
  };
  return (
    <details className="rounded border border-rule px-2 py-1 text-[13px]" open={kit === null && kits.length > 0}>
      <summary className="cursor-pointer">
        Library of kits <span className="text-soft">{kits.length === 0 ? "still empty" : count(kits.length, "kit")}</span>
      </summary>
      {error ? <p className="text-loss">{messageOf(error)}</p> : null}
      <ul aria-label="Kits of the library" className="max-h-56 overflow-auto">
        {kits.map((one) => (
          <KitEntry key={one.id} entry={one} isCurrent={one.id === known?.id} onUse={() => onUse(one.kit)} />
        ))}
      </ul>
      {kit ? (
        <div className="flex items-center gap-2 pt-1">
          {known && isSameKit(known.kit, kit) ? (
            <span className="text-soft">“{known.name}” is in the library as it is here.</span>
          ) : (
            <Button onClick={keep} disabled={name === ""}>
              {known ? `Replace “${known.name}” in the library` : "Put this kit into the library"}
            </Button>
          )}
          {name === "" ? <span className="text-soft">Give it a name first.</span> : null}
        </div>
      ) : null}
    </details>
  );
}

interface KitEntryProps {
  readonly entry: LibraryKit;
  readonly isCurrent: boolean;
  readonly onUse: () => void;
}

function KitEntry({ entry, isCurrent, onUse }: KitEntryProps) {
  const { id, name, description, kit, usedBy } = entry;
  const [isEdited, setEdited] = useState(false);
  const createKit = useChange("createKit");
  const replaceKit = useChange("replaceKit");
  const deleteKit = useChange("deleteKit");
  const remove = async (): Promise<void> => {
    if (!(await deleteKit.run({ id }))) return;
    toast(`“${name}” was deleted from the library. Plans keep their copies.`, {
      action: { label: "Undo", onClick: () => void createKit.run({}, { name, description, kit }) },
    });
  };
  return (
    <li className="border-rule/60 border-b py-1">
      <div className="flex items-baseline gap-2">
        <button
          type="button"
          className={`text-left hover:underline ${isCurrent ? "font-semibold" : ""}`}
          onClick={onUse}
          title="Use this kit"
        >
          {name}
        </button>
        <span className="text-soft" title={usedBy.map(({ title }) => title).join(", ")}>
          {usedWords(entry)}
        </span>
        <span className="flex-1" />
        <Button variant="quiet" className="h-6 px-1" aria-expanded={isEdited} onClick={() => setEdited(!isEdited)}>
          Describe
        </Button>
        <Button variant="quiet" className="h-6 px-1 text-loss" onClick={() => void remove()}>
          Delete
        </Button>
      </div>
      {description && !isEdited ? <p className="text-soft">{description}</p> : null}
      {isEdited ? (
        <form
          className="flex flex-col gap-1 pt-1"
          onSubmit={(event) => {
            event.preventDefault();
            const form = new FormData(event.currentTarget);
            const body: KitBody = { name: String(form.get("name")).trim(), description: String(form.get("description")).trim(), kit };
            void replaceKit.run({ id }, body).then((done) => done && setEdited(false));
          }}
        >
          <Field label="Name in the library">
            {(field) => <TextInput id={field} name="name" defaultValue={name} maxLength={80} required />}
          </Field>
          <Field label="What it is for">
            {(field) => (
              <textarea id={field} name="description" className={`${inputClass} h-14 py-1`} defaultValue={description} maxLength={1000} />
            )}
          </Field>
          <Button type="submit" variant="primary" className="self-start">
            Keep
          </Button>
        </form>
      ) : null}
    </li>
  );
}
