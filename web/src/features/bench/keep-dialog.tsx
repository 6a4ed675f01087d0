import type { RunEvidence } from "@plan-tester/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, inputClass, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";

/** Turns a draft run into a kept one, with a name and a note. */
export function KeepDialog({
  run,
  onClose,
  onKept,
}: {
  readonly run: RunEvidence;
  readonly onClose: () => void;
  readonly onKept: (kept: NonNullable<RunEvidence["kept"]>) => void;
}) {
  const [name, setName] = useState(run.kept?.name ?? `${run.title}, ${run.settings.symbol} ${run.settings.timeframe}`);
  const [note, setNote] = useState(run.kept?.note ?? "");
  const [tagText, setTagText] = useState((run.kept?.tags ?? []).join(", "));
  const keepRun = useChange("keepRun");
  const keep = async (): Promise<void> => {
    const words = tagText.split(",").map((tag) => tag.trim());
    const kept = { name: name.trim(), note, tags: [...new Set(words.filter(Boolean))] };
    if (!(await keepRun.run({ id: run.id }, kept))) return;
    onKept(kept);
    toast(`Kept “${kept.name}”`);
    onClose();
  };
  return (
    <Modal title="Keep this run" description="A kept run holds its source, inputs, settings and data fingerprint." onClose={onClose}>
      <CheckedForm
        className="flex flex-col gap-3"
        onSubmit={() => {
          if (name.trim()) void keep();
        }}
      >
        <Field label="Name">
          {(id) => <TextInput id={id} value={name} maxLength={200} autoFocus onChange={(event) => setName(event.target.value)} />}
        </Field>
        <Field label="Tags" hint="With commas between them. The list of runs can be filtered by them.">
          {(id) => <TextInput id={id} value={tagText} maxLength={400} onChange={(event) => setTagText(event.target.value)} />}
        </Field>
        <Field label="Note">
          {(id) => (
            <textarea
              id={id}
              rows={4}
              className={`${inputClass} h-auto py-1`}
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
          )}
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={keepRun.isRunning || !name.trim()}>
            Keep
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
