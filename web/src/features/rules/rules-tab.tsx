/** What each rule of a run's plan earns: the plan without it, and with placebos in its place. */
import type { RulesAnswer, RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { Square } from "lucide-react";
import { useState } from "react";
import { messageOf } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { count, duration, number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Progress } from "../../ui/progress.tsx";
import { PLACEBOS } from "./placebos.ts";
import { RulesList } from "./rules-list.tsx";

export interface RulesTabProps {
  readonly run: RunEvidence;
  readonly onLine: (line: number) => void;
}

export function RulesTab({ run, onLine }: RulesTabProps) {
  const quick = useQuery(queries.runRules(run.id, 0));
  const full = useQuery(queries.runRules(run.id, PLACEBOS));
  const isRunning = quick.isFetching || full.isFetching;
  const ask = (query: typeof quick): void => void (isRunning ? undefined : query.refetch());
  const answer = full.data ?? quick.data;
  const error = full.error ?? quick.error;
  useCommands([
    { id: "rules quickly", label: "What each rule earns, without placebos", act: () => ask(quick) },
    { id: "rules with placebos", label: `What each rule earns, with ${PLACEBOS} placebos`, act: () => ask(full) },
  ]);
  if (run.walkForwardId || (run.watched && !run.watched.isBacktest))
    return (
      <p className="p-3 text-soft">
        {run.walkForwardId
          ? "This run is stitched from the windows of a walk-forward. Run the plan with the inputs of one window, and look at its rules there."
          : "This is what a watch did. Open the backtest of the same bars and look at its rules there."}
      </p>
    );
  return (
    <div className="flex flex-col gap-3 p-3">
      <div className="flex flex-wrap items-center gap-2">
        {isRunning ? (
          <RulesProgress id={run.id} />
        ) : (
          <>
            <Button variant={full.data ? "quiet" : "primary"} onClick={() => ask(full)}>
              {full.data ? "With placebos again" : `Weigh each rule, with ${PLACEBOS} placebos`}
            </Button>
            <Button onClick={() => ask(quick)}>Quickly, without placebos</Button>
          </>
        )}
      </div>
      {error && !isRunning ? (
        <p role="alert" className="text-loss">
          {messageOf(error)}
        </p>
      ) : null}
      {answer ? <RulesList answer={answer} onLine={onLine} /> : <About />}
      {answer ? <Notes answer={answer} /> : null}
    </div>
  );
}

function RulesProgress({ id }: { readonly id: string }) {
  const stop = useChange("stopRules");
  const [progress, setProgress] = useState({ done: 0, total: 0 });
  const [beganMs] = useState(() => performance.now());
  useServerEvents((event) => {
    if (event.type === "rules-progress" && event.id === id) setProgress(event);
  });
  const { done, total } = progress;
  const perSecond = done / Math.max(0.001, (performance.now() - beganMs) / 1000);
  return (
    <>
      <div role="status" className="w-80 text-[13px] text-soft">
        {total === 0
          ? "Reading the plan's rules …"
          : `${number(done)} of ${count(total, "run")} · ${number(perSecond)} a second · ${duration((1000 * (total - done)) / Math.max(perSecond, 0.01))} left`}
        <Progress done={done} total={total} label="What each rule earns" />
      </div>
      <Button variant="danger" onClick={() => void stop.run({ id })} disabled={stop.isRunning || total === 0}>
        <Square size={11} aria-hidden /> Stop
      </Button>
    </>
  );
}

const About = () => (
  <div className="flex max-w-2xl flex-col gap-2 text-[14px] text-soft">
    <p>
      The plan is run again without each of its rules in turn: a filter counts as true, an alternative as never. What the plan earns with it
      and not without it is what the rule earns.
    </p>
    <p>
      Any filter changes a result. So each rule is also put against placebos: the same rule as it stood some bars ago, which holds as often
      and as long at a time, and knows nothing of the bar. A rule is worth its place only if it does better than these.
    </p>
  </div>
);

function Notes({ answer: { placebos, isStopped, failed, left, rules } }: { readonly answer: RulesAnswer }) {
  const fewest = Math.min(...rules.map((rule) => rule.placebos));
  return (
    <ul className="flex max-w-3xl flex-col gap-1 text-[13px] text-soft">
      {isStopped ? (
        <li>
          Stopped:{" "}
          {rules.length === 0
            ? "no rule was run without"
            : `each rule has met ${count(Number.isFinite(fewest) ? fewest : 0, "placebo")} of ${number(placebos)}`}
          . What was done is kept.
        </li>
      ) : null}
      {failed.map(({ label, line, message }) => (
        <li key={label}>
          Without “{label}” (line {line}) the plan can’t be run: {message}
        </li>
      ))}
      {left > 0 ? <li>{count(left, "further rule")} of the plan were too many to be looked at.</li> : null}
      <li>
        Earned a year: the mean of the daily returns with the rule less those without it, in percent of equity, and the 5 to 95 % of it over
        2,000 draws of blocks of days (Politis &amp; Romano 1994). As good are the placebos that did at least as well. Kept out and let in
        are trades that only one of the two plans made. All is measured on the history that the rules were perhaps chosen on, so that a rule
        may look better than it is.
      </li>
    </ul>
  );
}
