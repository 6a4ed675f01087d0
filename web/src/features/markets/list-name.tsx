/** Asks what a list of instruments is to be called; one that has the name already gets them too. */
import type { InstrumentList } from "@plan-tester/contract";
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Failure } from "../../ui/states.tsx";

export interface ListNameProps {
  readonly lists: readonly InstrumentList[];
  readonly symbols: readonly string[];
  /** The one that gets another name; a new one otherwise. */
  readonly renamed?: InstrumentList | undefined;
  readonly onClose: () => void;
  readonly onKept: (list: InstrumentList) => void;
}

export function ListName({ lists, symbols, renamed, onClose, onKept }: ListNameProps) {
  const [name, setName] = useState(renamed?.name ?? "");
  const create = useChange("createInstrumentList", { shows: true });
  const replace = useChange("replaceInstrumentList", { shows: true });
  const same = renamed ? undefined : lists.find((list) => list.name.toLowerCase() === name.trim().toLowerCase());
  const save = async (): Promise<void> => {
    const body = { name: same?.name ?? name.trim(), symbols: [...new Set([...(same?.symbols ?? []), ...symbols])] };
    const kept = (renamed ?? same) ? await replace.run({ id: (renamed ?? same)!.id }, body) : await create.run({}, body);
    if (kept) onKept(kept.reply);
  };
  return (
    <Modal title={renamed ? "Rename the list" : "Keep these instruments as a list"} onClose={onClose}>
      <CheckedForm className="flex flex-col gap-3" onSubmit={() => void save()}>
        {(create.error ?? replace.error) ? <Failure error={create.error ?? replace.error} /> : null}
        <Field label="Name">
          {(id) => <TextInput id={id} autoFocus maxLength={80} value={name} onChange={({ target }) => setName(target.value)} />}
        </Field>
        <p className="text-[13px] text-soft">{symbols.join(", ")}</p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={name.trim() === ""}>
            {same ? `Add to ${same.name}` : renamed ? "Rename" : "Keep"}
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
