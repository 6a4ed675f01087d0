/** Named sets of inputs and exit kit, some with a market of their own: choose one, keep one, set several side by side. */
import { type RunSettings, settingsOfVariant, type Variant, type VariantBody } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import type { Draft } from "../drafts/use-draft.ts";
import { KitChoice } from "./kit-choice.tsx";
import { StopStudyDialog, type StudiedKit } from "./stop-study-dialog.tsx";

export interface VariantsRowProps {
  readonly planId: string;
  readonly draft: Draft;
  readonly onChoose: (change: Partial<Draft>) => void;
  readonly onCompare: () => void;
  readonly onStudy: (kits: readonly StudiedKit[]) => void;
}

const isSame = ({ inputs: own, kit, market }: Variant, inputs: Draft["inputs"], settings: RunSettings): boolean =>
  JSON.stringify([sorted(own), kit]) === JSON.stringify([sorted(inputs), settings.kit]) &&
  (market === null || (market.symbol === settings.symbol && market.timeframe === settings.timeframe));
const sorted = (values: Readonly<Record<string, unknown>>) => Object.entries(values).sort(([a], [b]) => (a < b ? -1 : 1));

export function VariantsRow({ planId, draft, onChoose, onCompare, onStudy }: VariantsRowProps) {
  const variants = useQuery(queries.variants(planId)).data ?? [];
  const [naming, setNaming] = useState(false);
  const [studying, setStudying] = useState(false);
  useCommands([{ id: "stop-study", label: "Stop study: run this plan under several exit kits", act: () => setStudying(true) }]);
  const { inputs, settings } = draft;
  const current = variants.find((variant) => isSame(variant, inputs, settings));
  const createVariant = useChange("createVariant");
  const replaceVariant = useChange("replaceVariant");
  const deleteVariant = useChange("deleteVariant");
  const remove = async (variant: Variant): Promise<void> => {
    if (!(await deleteVariant.run({ id: variant.id }))) return;
    const undo = (): void => void createVariant.run({ id: planId }, bodyOf(variant));
    toast(`“${variant.name}” was deleted`, { action: { label: "Undo", onClick: undo } });
  };
  const choose = (id: string): void => {
    const variant = variants.find((candidate) => candidate.id === id);
    if (variant) onChoose({ inputs: variant.inputs, settings: settingsOfVariant(settings, variant) });
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-rule border-b px-3 py-1 text-[13px]">
      <Select
        aria-label="Variant"
        className="h-6 w-auto max-w-44"
        value={current?.id ?? ""}
        disabled={variants.length === 0}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="">{variants.length === 0 ? "no variant yet" : "no variant"}</option>
        {variants.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Select>
      <KitChoice kit={settings.kit} onChoose={(kit) => onChoose({ settings: { ...settings, kit } })} />
      <Button variant="quiet" className="h-6 px-1.5" onClick={() => setNaming(true)}>
        Keep as variant
      </Button>
      {current ? (
        <Button variant="quiet" className="h-6 px-1.5" onClick={() => void remove(current)}>
          Delete
        </Button>
      ) : null}
      <Button
        variant="quiet"
        className="h-6 px-1.5 text-accent"
        disabled={variants.length < 2}
        onClick={onCompare}
        title="Run every variant and set them side by side"
      >
        Compare variants
      </Button>
      <Button
        variant="quiet"
        className="h-6 px-1.5 text-accent"
        onClick={() => setStudying(true)}
        title="Run the plan under several exit kits"
      >
        Stop study
      </Button>
      {studying ? (
        <StopStudyDialog
          kit={settings.kit}
          onClose={() => setStudying(false)}
          onStart={(kits) => {
            setStudying(false);
            onStudy(kits);
          }}
        />
      ) : null}
      {naming ? (
        <NameDialog
          suggestion={settings.kit?.name || `Variant ${variants.length + 1}`}
          onClose={() => setNaming(false)}
          onName={(name) => {
            setNaming(false);
            const known = variants.find((variant) => variant.name === name);
            const body = { name, inputs, kit: settings.kit, market: null };
            void (known ? replaceVariant.run({ id: known.id }, body) : createVariant.run({ id: planId }, body));
          }}
        />
      ) : null}
    </div>
  );
}

const bodyOf = ({ name, inputs, kit, market }: Variant): VariantBody => ({ name, inputs, kit, market });

interface NameDialogProps {
  readonly suggestion: string;
  readonly onClose: () => void;
  readonly onName: (name: string) => void;
}

function NameDialog({ suggestion, onClose, onName }: NameDialogProps) {
  const [name, setName] = useState(suggestion);
  return (
    <Modal
      title="Keep as variant"
      description="A variant holds the inputs and the exit kit as they are now. A known name replaces that variant."
      onClose={onClose}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) onName(name.trim());
        }}
      >
        <Field label="Name of the variant">
          {(id) => <TextInput id={id} autoFocus value={name} maxLength={200} onChange={(event) => setName(event.target.value)} />}
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={!name.trim()}>
            Keep
          </Button>
        </div>
      </form>
    </Modal>
  );
}
