/** The plans in a table: found by words, in the order of any column, renamed in place. */
import type { PlanSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { ArrowDown, ArrowUp, Copy, Pencil, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { useChange } from "../../data/use-change.ts";
import { count, HERE, money, number, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/field.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { Spark } from "../../ui/spark.tsx";
import { type PlanSort, SORTS, sortedPlans } from "./sorted-plans.ts";

export interface PlanTableProps {
  readonly plans: readonly PlanSummary[];
  readonly onCopy: (id: string) => void;
  readonly onDelete: (plan: PlanSummary) => void;
}

export function PlanTable({ plans, onCopy, onDelete }: PlanTableProps) {
  const [search, setSearch] = useState("");
  const [sort, setSort] = useKept<PlanSort>("plans' order", { by: "updatedMs", down: true });
  const shown = sortedPlans(plans, search, sort);
  return (
    <>
      <div className="flex items-center gap-3 border-rule border-b px-3 py-1.5">
        <TextInput
          type="search"
          aria-label="Search plans"
          placeholder="Search name, market, note"
          className="w-64"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <span className="text-[13px] text-soft" role="status">
          {shown.length === plans.length ? count(plans.length, "plan") : `${number(shown.length)} of ${count(plans.length, "plan")}`}
        </span>
      </div>
      {shown.length === 0 ? <p className="p-4 text-soft">No plan has these words in its name, market or note.</p> : null}
      <table className="w-full">
        <thead>
          <tr>
            {SORTS.map(({ by, label, isNumber }) => (
              <th
                key={by}
                className={`${th} ${isNumber ? num : ""}`}
                aria-sort={sort.by === by ? (sort.down ? "descending" : "ascending") : "none"}
              >
                <button
                  type="button"
                  className="inline-flex items-center gap-1 hover:text-ink"
                  onClick={() => setSort({ by, down: sort.by === by ? !sort.down : isNumber })}
                >
                  {label}
                  {sort.by === by ? sort.down ? <ArrowDown size={12} aria-hidden /> : <ArrowUp size={12} aria-hidden /> : null}
                </button>
              </th>
            ))}
            <th className={th}>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((plan) => (
            <PlanRow key={plan.id} plan={plan} onCopy={() => onCopy(plan.id)} onDelete={() => onDelete(plan)} />
          ))}
        </tbody>
      </table>
    </>
  );
}

function PlanRow({ plan, onCopy, onDelete }: { readonly plan: PlanSummary; readonly onCopy: () => void; readonly onDelete: () => void }) {
  const { lastRun } = plan;
  const [isRenaming, setRenaming] = useState(false);
  return (
    <tr className="hover:bg-sunk">
      <td className="border-rule/60 border-b px-3 py-1.5">
        {isRenaming ? (
          <PlanName plan={plan} onClose={() => setRenaming(false)} />
        ) : (
          <Link to={`/plans/${plan.id}`} className="line-clamp-2 break-words font-semibold hover:underline">
            {plan.title}
          </Link>
        )}
        <p className="line-clamp-1 max-w-xl text-[13px] text-soft" title={plan.note}>
          {plan.note}
        </p>
      </td>
      <td className={td}>
        <PlanMarket plan={plan} />
      </td>
      <td className={`${td} text-soft`}>{timeAt(plan.updatedMs, HERE)}</td>
      <td className={`${td} ${num}`}>
        {lastRun ? (
          <Link to={`/runs/${lastRun.id}`} className="flex items-center justify-end gap-2" aria-label={`Open the run ${lastRun.name}`}>
            <Spark values={lastRun.spark} label={`Equity of ${lastRun.name}`} />
            <span className="min-w-18">
              <Amount value={lastRun.netProfit} />
            </span>
          </Link>
        ) : (
          <span className="text-soft">none kept</span>
        )}
      </td>
      <td className={`${td} ${num}`}>{lastRun ? money(-lastRun.maxDrawdown) : null}</td>
      <td className={`${td} ${num}`}>{lastRun ? number(lastRun.trades) : null}</td>
      <td className={`${td} ${num}`}>{lastRun ? number(lastRun.sharpe, 2) : null}</td>
      <td className={`${td} ${num}`}>
        <Button variant="quiet" className="px-1.5" onClick={() => setRenaming(true)} aria-label={`Rename ${plan.title}`}>
          <Pencil size={14} aria-hidden />
        </Button>
        <Button variant="quiet" className="px-1.5" onClick={onCopy} aria-label={`Copy ${plan.title}`}>
          <Copy size={14} aria-hidden />
        </Button>
        <Button variant="quiet" className="px-1.5" onClick={onDelete} aria-label={`Delete ${plan.title}`}>
          <Trash2 size={14} aria-hidden />
        </Button>
      </td>
    </tr>
  );
}

/** The name, to be written over: Enter takes it, Escape leaves it. */
function PlanName({ plan, onClose }: { readonly plan: PlanSummary; readonly onClose: () => void }) {
  const [title, setTitle] = useState(plan.title);
  const updatePlan = useChange("updatePlan");
  const isTaken = useRef(false);
  const take = async (): Promise<void> => {
    // A field that is switched off while the name is sent loses the focus, which would take it again.
    if (isTaken.current) return;
    isTaken.current = true;
    const next = title.trim();
    if (!next || next === plan.title || (await updatePlan.run({ id: plan.id }, { title: next }))) onClose();
    isTaken.current = false;
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void take();
      }}
    >
      <TextInput
        autoFocus
        aria-label={`New name of ${plan.title}`}
        className="w-full max-w-md"
        value={title}
        maxLength={200}
        disabled={updatePlan.isRunning}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTitle(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onClose();
        }}
        onBlur={() => void take()}
      />
    </form>
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
