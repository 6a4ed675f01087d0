/** Would chance have found it: the run on markets without memory, or why only its sweep can answer that. */
import type { RunEvidence, TrialContext } from "@plan-tester/contract";
import { type Luck, luckOf, MOST_P } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { messageOf } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { LuckStrip } from "../../ui/luck-strip.tsx";
import { Progress } from "../../ui/progress.tsx";
import { choosingOn } from "./spent.ts";

/** What was found, as a sentence. */
export function chanceWords({ markets, asGood, p, luck }: Luck, best: number): string {
  const found = `On ${count(markets, "market")} with this one’s moves but no memory the same run came to as good a ratio as ${number(best, 2)} in ${asGood === 0 ? "none" : asGood} (p ${number(p, 2)}); it makes ${number(luck, 2)} there on average.`;
  return p <= MOST_P
    ? `${found} It uses something that the past says of the direction of prices.`
    : `${found} A market of which the past says nothing would have shown as much.`;
}

export function ChancePart({ run, context }: { readonly run: RunEvidence; readonly context: TrialContext }) {
  const { id } = run;
  const chance = useQuery(queries.runChance(id));
  const stop = useChange("stopChance");
  const [progress, setProgress] = useState<{ readonly done: number; readonly total: number } | null>(null);
  useServerEvents((event) => {
    if (event.type === "chance-progress" && event.id === id) setProgress(event);
  });
  const choosing = choosingOn(context, run.settings);
  // A sweep is named before a walk-forward: it has a luck test.
  const chosen = choosing.find(({ kind }) => kind === "sweep") ?? choosing[0];
  const answer = chance.data;
  const found = answer && luckOf(answer.best, answer.ratios);
  return (
    <section aria-label="Would chance have found it" className="flex flex-col gap-2">
      <h2 className="font-semibold text-[13px]">Would chance have found it?</h2>
      {run.walkForwardId || run.watched ? (
        <p className="text-soft">No single run of the plan made this: there is nothing to run again.</p>
      ) : chosen ? (
        <p className="text-soft">
          {count(chosen.variants, "variant")} of this plan were compared on this period, so this setting may have been chosen there.{" "}
          {chosen.kind === "sweep"
            ? "Only the luck test of that sweep counts: its tab Trust has it."
            : "A walk-forward has no luck test: sweep the same inputs over this period, and make that of the sweep."}
        </p>
      ) : (
        <>
          {answer && found ? (
            <>
              <p>{chanceWords(found, answer.best)}</p>
              <LuckStrip best={answer.best} ratios={answer.ratios} of="this run" />
              {answer.isStopped ? <p className="text-soft">Stopped after {count(answer.ratios.length, "market")}.</p> : null}
            </>
          ) : null}
          {chance.error ? <p className="text-loss">{messageOf(chance.error)}</p> : null}
          <div className="flex items-center gap-3">
            {chance.isFetching ? (
              <>
                <div className="w-64">
                  <Progress done={progress?.done ?? 0} total={progress?.total ?? 99} label="Markets without memory" />
                </div>
                <Button onClick={() => void stop.run({ id })}>Stop</Button>
              </>
            ) : answer ? null : (
              <Button onClick={() => void chance.refetch()}>Run it on 99 markets without memory</Button>
            )}
          </div>
        </>
      )}
    </section>
  );
}
