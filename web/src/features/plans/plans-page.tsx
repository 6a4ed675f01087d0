/** All plans, with the last kept run of each. */
import type { PlanFile, PlanSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Copy, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useCommands } from "../../app/commands.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, money, number } from "../../lib/format.ts";
import { readJson } from "../../lib/read-json.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { Modal } from "../../ui/modal.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Spark } from "../../ui/spark.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { drafts } from "../drafts/drafts.ts";

export function PlansPage() {
  const { data, error } = useQuery(queries.plans());
  const navigate = useNavigate();
  const [doomed, setDoomed] = useState<PlanSummary | null>(null);
  const createPlan = useChange("createPlan");
  const createFromFile = useChange("createPlanFromFile");
  const deletePlan = useChange("deletePlan");

  const create = async (copyOf?: string): Promise<void> => {
    const made = await createPlan.run({}, copyOf ? { copyOf } : {});
    if (made) navigate(`/plans/${made.reply.id}`);
  };
  const openFile = async (file: File): Promise<void> => {
    const content = await readJson<PlanFile>(file);
    const made = content && (await createFromFile.run({}, content));
    if (made) navigate(`/plans/${made.reply.id}`);
  };
  const remove = async (plan: PlanSummary): Promise<void> => {
    setDoomed(null);
    if (await deletePlan.run({ id: plan.id })) drafts.drop(plan.id);
  };
  useCommands([{ id: "new-plan", label: "New plan", keys: "Alt+n", act: () => void create() }]);

  return (
    <Page
      title="Plans"
      aside={
        <>
          <FileButton label="Open a plan file" onFile={(file) => void openFile(file)} />
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
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>Plan</th>
              <th className={th}>Market</th>
              <th className={th}>Last kept run</th>
              <th className={`${th} ${num}`}>Net</th>
              <th className={`${th} ${num}`}>Drawdown</th>
              <th className={`${th} ${num}`}>Trades</th>
              <th className={`${th} ${num}`}>Sharpe</th>
              <th className={th}>
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.map((plan) => (
              <PlanRow key={plan.id} plan={plan} onCopy={() => void create(plan.id)} onDelete={() => setDoomed(plan)} />
            ))}
          </tbody>
        </table>
      ) : null}
      {doomed ? (
        <Modal
          title={`Delete “${doomed.title}”?`}
          description="Its source and settings go. Kept runs stay, each with its own copy of the source."
          onClose={() => setDoomed(null)}
        >
          <div className="flex justify-end gap-2">
            <Button onClick={() => setDoomed(null)}>Keep it</Button>
            <Button variant="danger" onClick={() => void remove(doomed)}>
              Delete
            </Button>
          </div>
        </Modal>
      ) : null}
    </Page>
  );
}

function PlanRow({ plan, onCopy, onDelete }: { readonly plan: PlanSummary; readonly onCopy: () => void; readonly onDelete: () => void }) {
  const { lastRun } = plan;
  return (
    <tr className="hover:bg-sunk">
      <td className="border-rule/60 border-b px-3 py-1.5">
        <Link to={`/plans/${plan.id}`} className="font-semibold hover:underline">
          {plan.title}
        </Link>
        <p className="line-clamp-1 max-w-xl text-[13px] text-soft" title={plan.note}>
          {plan.note}
        </p>
      </td>
      <td className={td}>
        <PlanMarket plan={plan} />
      </td>
      <td className={td}>
        {lastRun ? (
          <Link to={`/runs/${lastRun.id}`} className="flex items-center gap-2" aria-label={`Open the run ${lastRun.name}`}>
            <Spark values={lastRun.spark} label={`Equity of ${lastRun.name}`} />
          </Link>
        ) : (
          <span className="text-soft">none kept</span>
        )}
      </td>
      <td className={`${td} ${num}`}>{lastRun ? <Amount value={lastRun.netProfit} /> : null}</td>
      <td className={`${td} ${num}`}>{lastRun ? money(-lastRun.maxDrawdown) : null}</td>
      <td className={`${td} ${num}`}>{lastRun ? number(lastRun.trades) : null}</td>
      <td className={`${td} ${num}`}>{lastRun ? number(lastRun.sharpe, 2) : null}</td>
      <td className={`${td} ${num}`}>
        <Button variant="quiet" onClick={onCopy} aria-label={`Copy ${plan.title}`}>
          <Copy size={14} aria-hidden />
        </Button>
        <Button variant="quiet" onClick={onDelete} aria-label={`Delete ${plan.title}`}>
          <Trash2 size={14} aria-hidden />
        </Button>
      </td>
    </tr>
  );
}

const marketWords = (symbol: string, timeframe: string): string => `${symbol} ${timeframeLabel(timeframe)}`;

/** The market of the figures beside it: that of the last kept run. The draft's is said where it is another, or alone. */
export function PlanMarket({
  plan: { symbol, timeframe, lastRun },
}: {
  readonly plan: Pick<PlanSummary, "symbol" | "timeframe" | "lastRun">;
}) {
  const draft = marketWords(symbol, timeframe);
  if (!lastRun) return draft;
  const { settings } = lastRun;
  const more = settings.alsoOn.length;
  const run = `${marketWords(settings.symbol, settings.timeframe)}${more > 0 ? ` and ${count(more, "other")}` : ""}`;
  const isSame = settings.symbol === symbol && settings.timeframe === timeframe;
  return (
    <>
      {run}
      {isSame ? null : <span className="block text-[12px] text-soft">draft: {draft}</span>}
    </>
  );
}
