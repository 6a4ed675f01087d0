/** Plans and runs put into one file: what it is called, what is said of it, and whether bars come along. */
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { fileName, saveBlob } from "../../lib/files.ts";
import { bytes, count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Field, inputClass, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Failure } from "../../ui/states.tsx";

export interface SaveBundleProps {
  readonly title: string;
  readonly plans: readonly string[];
  readonly runs: readonly string[];
  readonly onClose: () => void;
}

export function SaveBundle({ title: first, plans, runs, onClose }: SaveBundleProps) {
  const [title, setTitle] = useState(first.slice(0, 200));
  const [note, setNote] = useState("");
  const [hasBars, setHasBars] = useState(true);
  const make = useChange("makeBundle", { shows: true });
  const save = async (): Promise<void> => {
    const made = await make.run({}, { title: title.trim(), note, plans: [...plans], runs: [...runs], hasBars });
    if (made) saveBlob(fileName(title, ".bundle.zip"), made.reply);
  };
  const holds = [
    runs.length > 0 ? `${count(runs.length, "run")} with ${runs.length === 1 ? "its plan" : "their plans"}` : "",
    plans.length > 0 ? count(plans.length, "plan") : "",
  ].filter(Boolean);
  return (
    <Modal
      title="Save as a bundle"
      description={`One zip file with ${holds.join(" and ")}: versions, variants, modules, Journal, exit kits and instruments included. Opened elsewhere, its runs are made again and compared to the last bit.`}
      onClose={onClose}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <Field label="Title">
          {(id) => <TextInput id={id} value={title} maxLength={200} onChange={({ target }) => setTitle(target.value)} />}
        </Field>
        <Field label="Note">
          {(id) => (
            <textarea
              id={id}
              rows={3}
              className={`${inputClass} h-auto py-1`}
              value={note}
              maxLength={20_000}
              onChange={({ target }) => setNote(target.value)}
            />
          )}
        </Field>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-(--accent)"
            checked={hasBars}
            onChange={({ target }) => setHasBars(target.checked)}
          />
          With all bars of its instruments
        </label>
        <p className="text-[13px] text-soft">
          {hasBars
            ? "The file is larger, and its runs can be made again in any workspace."
            : "Its runs can be made again only where the same bars are, as those of the demo are."}
        </p>
        {make.error ? <Failure error={make.error} /> : null}
        <div className="flex items-center justify-end gap-2">
          <span className="mr-auto text-[13px] text-soft" role="status">
            {make.isRunning ? "Packing …" : make.reply ? `Saved, ${bytes(make.reply.size)}.` : ""}
          </span>
          <Button onClick={onClose}>{make.reply ? "Close" : "Cancel"}</Button>
          <Button variant="primary" type="submit" disabled={make.isRunning || title.trim() === ""}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
