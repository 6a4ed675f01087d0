/** The name of a rule, after which its inputs are called, and a comment on it. */
import type { SheetRule } from "@plan-tester/core";
import { useState } from "react";
import { Button } from "../../ui/button.tsx";
import { Field, inputClass, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";

export interface NameDialogProps {
  readonly rule: SheetRule;
  readonly onName: (words: { readonly name: string; readonly comment: string }) => void;
  readonly onClose: () => void;
}

export function NameDialog({ rule, onName, onClose }: NameDialogProps) {
  const [name, setName] = useState(rule.name);
  const [comment, setComment] = useState(rule.comment);
  return (
    <Modal title="Name and comment" onClose={onClose}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onName({ name: name.trim(), comment: comment.trim() });
          onClose();
        }}
      >
        <Field label="Name" hint="Inputs of the rule are called after it.">
          {(id) => <TextInput id={id} value={name} maxLength={80} autoFocus onChange={({ target }) => setName(target.value)} />}
        </Field>
        <Field label="Comment">
          {(id) => (
            <textarea
              id={id}
              className={`${inputClass} h-20 py-1`}
              value={comment}
              maxLength={2000}
              onChange={({ target }) => setComment(target.value)}
            />
          )}
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary">
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
