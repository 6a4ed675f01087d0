/** All plans, with the last kept run of each. */
import type { PlanCreate, PlanFile, PlanSummary } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useDelete } from "../../data/use-delete.ts";
import { useCommands } from "../../lib/commands.ts";
import { readJson } from "../../lib/read-json.ts";
import { Button } from "../../ui/button.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { OpenBundle } from "../bundles/open-bundle.tsx";
import { drafts } from "../drafts/drafts.ts";
import { PlanTable } from "./plan-table.tsx";

export function PlansPage() {
  const { data, error } = useQuery(queries.plans());
  const navigate = useNavigate();
  const createPlan = useChange("createPlan");
  const createFromFile = useChange("createPlanFromFile");
  const deleteIt = useDelete();
  const [bundle, setBundle] = useState<File | null>(null);

  const create = async (given: PlanCreate = {}): Promise<void> => {
    const made = await createPlan.run({}, given);
    if (made) navigate(`/plans/${made.reply.id}`);
  };
  const openFile = async (file: File): Promise<void> => {
    const content = await readJson<PlanFile>(file);
    const made = content && (await createFromFile.run({}, content));
    if (made) navigate(`/plans/${made.reply.id}`);
  };
  const remove = async ({ id, title }: PlanSummary): Promise<void> => {
    if (await deleteIt("plan", id, title)) drafts.drop(id);
  };
  const createSheet = async (): Promise<void> => {
    const { newSheetText } = await import("../sheet/new-sheet.ts");
    await create({ source: newSheetText() });
  };
  useCommands([
    { id: "new-plan", label: "New plan", keys: "Alt+n", act: () => void create() },
    { id: "new-sheet", label: "New rule sheet", keys: "Alt+Shift+n", act: () => void createSheet() },
  ]);

  return (
    <Page
      title="Plans"
      aside={
        <>
          <FileButton label="Open a bundle" accept=".zip,application/zip" onFile={setBundle} />
          <FileButton label="Open a plan file" onFile={(file) => void openFile(file)} />
          <Button onClick={() => void createSheet()}>
            <Plus size={14} aria-hidden /> New rule sheet
          </Button>
          <Button variant="primary" onClick={() => void create()}>
            <Plus size={14} aria-hidden /> New plan
          </Button>
        </>
      }
    >
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="plans" /> : null}
      {data?.length === 0 ? <Empty title="No plans yet">Begin with a new plan: it starts from a skeleton that runs.</Empty> : null}
      {data && data.length > 0 ? (
        <PlanTable plans={data} onCopy={(id) => void create({ copyOf: id })} onDelete={(plan) => void remove(plan)} />
      ) : null}
      {bundle ? <OpenBundle file={bundle} onClose={() => setBundle(null)} /> : null}
    </Page>
  );
}
