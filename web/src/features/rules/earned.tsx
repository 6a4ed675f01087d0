/** What the rows of a sheet were found to earn in the run that is shown, for as long as the sheet is what was run. */
import type { RuleAnswer, RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo } from "react";
import { queries } from "../../data/queries.ts";
import { count, number } from "../../lib/format.ts";
import { PLACEBOS } from "./placebos.ts";
import { ruleVerdict, type Standing, yearly } from "./rule-verdict.ts";

type EarnedByRow = ReadonlyMap<string, RuleAnswer>;
const NONE: EarnedByRow = new Map();
const Earned = createContext<EarnedByRow>(NONE);

export interface EarnedRulesProps {
  readonly run: RunEvidence | null;
  /** The plan's text as it is now. */
  readonly source: string;
  readonly children: ReactNode;
}

export function EarnedRules({ run, source, children }: EarnedRulesProps) {
  const id = run?.id ?? "";
  const quick = useQuery(queries.runRules(id, 0)).data;
  const full = useQuery(queries.runRules(id, PLACEBOS)).data;
  const answer = run?.source === source ? (full ?? quick) : undefined;
  const byRow = useMemo(() => new Map(answer?.rules.map((rule) => [rule.key.replace(/^\w+:/, ""), rule])), [answer]);
  return <Earned.Provider value={byRow}>{children}</Earned.Provider>;
}

const TONES: Readonly<Record<Standing, string>> = { earns: "text-gain", costs: "text-loss", nothing: "text-soft", open: "text-soft" };

/** A row's earnings in one line; nothing where they are not known. */
export function RowEarnings({ rowId }: { readonly rowId: string }) {
  const rule = useContext(Earned).get(rowId);
  if (!rule) return null;
  const { earned, placebos, asGood } = rule;
  const { standing, text } = ruleVerdict(rule);
  return (
    <p className={`text-[12px] ${TONES[standing]}`} title={text}>
      {yearly(earned)} a year by this rule{placebos > 0 ? `, ${number(asGood)} of ${count(placebos, "placebo")} as good` : ""}
    </p>
  );
}
