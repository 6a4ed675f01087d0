/** What each rule earns, beside the other doubts of a run: a line for each, once it has been asked. */
import type { RulesAnswer } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { queries } from "../../data/queries.ts";
import { PLACEBOS } from "./placebos.ts";
import { ruleVerdict } from "./rule-verdict.ts";

/** What is known of a run's rules, with placebos if they were asked; null before. */
export function useRulesAnswer(runId: string): RulesAnswer | null {
  const quick = useQuery(queries.runRules(runId, 0)).data;
  const full = useQuery(queries.runRules(runId, PLACEBOS)).data;
  return full ?? quick ?? null;
}

export function RulesPart({ answer }: { readonly answer: RulesAnswer | null }) {
  const [search] = useSearchParams();
  const there = `?${new URLSearchParams({ ...Object.fromEntries(search), tab: "rules" })}`;
  return (
    <section aria-label="What each rule earns" className="flex flex-col gap-1 text-[13px]">
      <h2 className="font-semibold">
        What each rule earns{" "}
        <Link to={there} replace className="ml-2 text-accent hover:underline">
          {answer ? "All of it" : "Ask it"}
        </Link>
      </h2>
      {answer ? (
        <ul className="flex max-w-3xl flex-col gap-0.5">
          {answer.rules.map((rule) => (
            <li key={rule.key}>
              <strong className="font-semibold">{rule.label}</strong> <span className="text-soft">(line {rule.line})</span>:{" "}
              {ruleVerdict(rule).text}
            </li>
          ))}
          {answer.rules.length === 0 ? <li className="text-soft">The plan has no rule that could be taken off.</li> : null}
        </ul>
      ) : (
        <p className="text-soft">The plan without each of its rules, and with {PLACEBOS} placebos in its place, has not been run yet.</p>
      )}
    </section>
  );
}
