/** The texts that a plan had, each beside the one on screen, with their differences; any of them can come back. */
import type { PlanVersion } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { HERE, number, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import type { Draft } from "../drafts/use-draft.ts";
import { DiffView } from "./diff-view.tsx";

export interface VersionsDialogProps {
  readonly planId: string;
  readonly draft: Draft;
  readonly onClose: () => void;
  readonly onRestore: (change: Partial<Draft>) => void;
}

export function VersionsDialog({ planId, draft, onClose, onRestore }: VersionsDialogProps) {
  const versions = useQuery(queries.versions(planId));
  const [chosen, setChosen] = useState<string | null>(null);
  const createVersion = useChange("createVersion");
  const current = versions.data?.find(({ id }) => id === chosen) ?? versions.data?.[0] ?? null;
  const save = async (): Promise<void> => {
    const { source, inputs, settings } = draft;
    const saved = await createVersion.run({ id: planId }, { source, inputs, settings, name: "" });
    if (saved) setChosen(saved.reply.id);
  };
  return (
    <Modal title="Versions of this plan" size="full" onClose={onClose}>
      {versions.error ? <Failure error={versions.error} /> : null}
      <div className="flex h-[68vh] gap-3">
        <div className="flex w-64 shrink-0 flex-col gap-2">
          <Button onClick={() => void save()}>Keep the text as it is now</Button>
          <ul className="min-h-0 flex-1 overflow-auto" aria-label="Versions">
            {versions.data?.map((version) => (
              <li key={version.id}>
                <button
                  type="button"
                  aria-current={version.id === current?.id}
                  className={cx("w-full rounded px-2 py-1 text-left hover:bg-sunk", version.id === current?.id && "bg-accent-wash")}
                  onClick={() => setChosen(version.id)}
                >
                  <span className="block truncate font-semibold">{version.name || timeAt(version.createdMs, HERE)}</span>
                  <span className="block text-[12px] text-soft">
                    {version.name ? `${timeAt(version.createdMs, HERE)} · ` : ""}
                    {number(version.lines)} lines
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
        <div className="flex min-w-0 flex-1 flex-col gap-2">
          {versions.data?.length === 0 ? (
            <Empty title="No version yet">Each run keeps the text that it ran, once. Run the plan, or keep its text now.</Empty>
          ) : current ? (
            <OneVersion key={current.id} version={current} draft={draft} onClose={onClose} onRestore={onRestore} />
          ) : (
            <Loading what="versions" />
          )}
        </div>
      </div>
    </Modal>
  );
}

function OneVersion({ version, draft, onClose, onRestore }: Omit<VersionsDialogProps, "planId"> & { readonly version: PlanVersion }) {
  const detail = useQuery(queries.version(version.id));
  const [name, setName] = useState(version.name);
  const renameVersion = useChange("renameVersion");
  const rename = async (): Promise<void> => {
    if (name.trim() === version.name || !name.trim()) return;
    await renameVersion.run({ id: version.id }, { name: name.trim() });
  };
  if (detail.error) return <Failure error={detail.error} />;
  if (!detail.data) return <Loading what="the version" />;
  const { source, inputs, settings } = detail.data;
  const restore = (change: Partial<Draft>): void => {
    onRestore(change);
    toast("Brought back. Ctrl+Z in the editor undoes it.");
    onClose();
  };
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <TextInput
          aria-label="Name of this version"
          placeholder="Name this version"
          className="max-w-64"
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
          onBlur={() => void rename()}
          onKeyDown={(event) => event.key === "Enter" && void rename()}
        />
        <span className="flex-1 text-[13px] text-soft">Left: this version. Right: the text on the Bench.</span>
        <Button onClick={() => restore({ source, inputs, settings })}>Bring back with inputs and settings</Button>
        <Button variant="primary" onClick={() => restore({ source })}>
          Bring back the text
        </Button>
      </div>
      <DiffView before={source} after={draft.source} className="min-h-0 flex-1 border border-rule" />
    </>
  );
}
