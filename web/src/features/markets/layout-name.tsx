/** Asks what a layout of studies is to be called. */
import type { ChartLayout } from "@plan-tester/contract";
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Failure } from "../../ui/states.tsx";

export interface LayoutNameProps {
  readonly studies: readonly string[];
  readonly layouts: readonly ChartLayout[];
  readonly onClose: () => void;
}

export function LayoutName({ studies, layouts, onClose }: LayoutNameProps) {
  const [name, setName] = useState("");
  const keep = useChange("putLayout", { shows: true });
  const same = layouts.find((layout) => layout.name.toLowerCase() === name.trim().toLowerCase());
  const save = async (): Promise<void> => {
    const id = same?.id ?? crypto.randomUUID().slice(0, 8);
    if (await keep.run({ id }, { name: name.trim(), studies: [...studies] })) onClose();
  };
  return (
    <Modal title="Keep these studies as a layout" onClose={onClose}>
      <CheckedForm className="flex flex-col gap-3" onSubmit={() => void save()}>
        {keep.error ? <Failure error={keep.error} /> : null}
        <Field label="Name">
          {(id) => <TextInput id={id} autoFocus maxLength={60} value={name} onChange={({ target }) => setName(target.value)} />}
        </Field>
        <p className="font-mono text-[12px] text-soft">{studies.join(" · ")}</p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={name.trim() === ""}>
            {same ? `Replace ${same.name}` : "Keep"}
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
