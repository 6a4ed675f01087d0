/** Another name for a watch. */
import { useState } from "react";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";

export interface RenameDialogProps {
  readonly name: string;
  readonly onName: (name: string) => void;
  readonly onClose: () => void;
}

export function RenameDialog({ name, onName, onClose }: RenameDialogProps) {
  const [text, setText] = useState(name);
  const isEmpty = text.trim() === "";
  return (
    <Modal title={`Rename ${name}`} onClose={onClose}>
      <CheckedForm onSubmit={() => onName(text.trim())}>
        <Field label="Name">
          {(id) => (
            <TextInput id={id} value={text} maxLength={80} aria-invalid={isEmpty} onChange={(event) => setText(event.target.value)} />
          )}
        </Field>
        <div className="flex justify-end gap-2 pt-4">
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" type="submit" disabled={isEmpty}>
            Rename
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
