/** History is spent: what of it the plan was tried on, what is fresh, and the end of it that can be kept unseen. */
import type { TrialContext } from "@plan-tester/contract";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, dateWords, periodWords } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { DateField } from "../../ui/date-field.tsx";
import { Popover } from "../../ui/popover.tsx";
import { isChoosing, looksFrom, lookWords, triedBy } from "../trust/spent.ts";

/** Stretches of one instrument, joined where they touch: by sweeps, which choose, and by single runs. */
export function usedStretches(
  { stretches }: TrialContext,
  symbol: string,
  swept: boolean,
): { readonly from: string; readonly to: string }[] {
  const own = stretches.filter((used) => used.symbol === symbol && isChoosing(used) === swept).sort((a, b) => (a.from < b.from ? -1 : 1));
  const joined: { from: string; to: string }[] = [];
  for (const { from, to } of own) {
    const last = joined.at(-1);
    if (last && from <= last.to) last.to = [to, last.to].sort()[1]!;
    else joined.push({ from, to });
  }
  return joined;
}

export interface HistoryUseProps {
  readonly planId: string;
  readonly context: TrialContext;
  readonly symbol: string;
  readonly lastDate: string;
}

export function HistoryUse({ planId, context, symbol, lastDate }: HistoryUseProps) {
  const client = useQueryClient();
  const updatePlan = useChange("updatePlan");
  const { reservedFrom, trials } = context;
  const [date, setDate] = useState(reservedFrom);
  const [isSure, setSure] = useState(false);
  const set = async (next: string): Promise<void> => {
    const saved = await updatePlan.run({ id: planId }, { reservedFrom: next });
    if (!saved) return;
    client.setQueryData(queries.plan(planId).queryKey, saved.reply);
    setSure(false);
    toast(next ? `Held out from ${dateWords(next)} on` : "The holdout is released. The Journal has a note of it.");
  };
  const by = triedBy(context);
  const lines = (swept: boolean): string =>
    usedStretches(context, symbol, swept)
      .map(({ from, to }) => periodWords({ from, to }))
      .join(", ") || "none";
  return (
    <Popover
      align="end"
      label="How this history was used"
      className="w-96"
      trigger={
        <button type="button" className="whitespace-nowrap text-[12px] text-soft decoration-dotted underline-offset-3 hover:underline">
          {count(trials, "trial")}
          {reservedFrom ? `, held out from ${dateWords(reservedFrom)}` : ""}
        </button>
      }
    >
      <h2 className="font-semibold">History is spent</h2>
      <p>
        This plan was tried with {count(trials, "setting")}
        {by ? `: ${by}` : ""}. What rules earn and markets without memory are no trials. On {symbol}, sweeps chose on:{" "}
        <strong>{lines(true)}</strong>. Single runs looked at: {lines(false)}. The rest is fresh.
      </p>
      <CheckedForm
        className="mt-2 flex items-end gap-2 border-rule border-t pt-2"
        onSubmit={() => {
          if (date) void set(date);
        }}
      >
        <div className="flex-1">
          <span className="text-soft">Hold out from</span>
          <DateField aria-label="Hold out from" value={date} max={lastDate} onChange={setDate} />
        </div>
        <Button type="submit" disabled={!date || date === reservedFrom}>
          Hold it out
        </Button>
      </CheckedForm>
      {reservedFrom ? (
        isSure ? (
          <p className="mt-2">
            Once seen it can't be fresh again. {lookWords(looksFrom(context, symbol, reservedFrom))}{" "}
            <Button variant="danger" onClick={() => void set("")}>
              Release for good
            </Button>
          </p>
        ) : (
          <Button className="mt-2" onClick={() => setSure(true)}>
            Release the holdout …
          </Button>
        )
      ) : (
        <p className="mt-1 text-soft">No run, sweep or walk-forward can then reach it until you release it on purpose.</p>
      )}
    </Popover>
  );
}
