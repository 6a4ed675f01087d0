/** The same facts, bars and repairs once more, under another symbol: to be changed without touching the first. */
import { useState } from "react";
import { useNavigate } from "react-router";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Failure } from "../../ui/states.tsx";

export function CopyDialog({ symbol, onClose }: { readonly symbol: string; readonly onClose: () => void }) {
  const [next, setNext] = useState(`${symbol}-2`);
  const copy = useChange("copyMarket", { shows: true });
  const navigate = useNavigate();
  const save = async (): Promise<void> => {
    const wanted = next.trim();
    if (!(await copy.run({ symbol }, { symbol: wanted }))) return;
    onClose();
    navigate(`/markets/${encodeURIComponent(wanted)}`);
  };
  return (
    <Modal title={`Duplicate ${symbol}`} description="Facts, bars and the repairs in force, under another symbol." onClose={onClose}>
      <CheckedForm className="flex flex-col gap-3" onSubmit={() => void save()}>
        {copy.error ? <Failure error={copy.error} /> : null}
        <Field label="Symbol of the copy">
          {(id) => <TextInput id={id} autoFocus maxLength={24} value={next} onChange={({ target }) => setNext(target.value)} />}
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={next.trim() === "" || next.trim() === symbol || copy.isRunning}>
            {copy.isRunning ? "Duplicating …" : "Duplicate"}
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
