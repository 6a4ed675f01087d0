/** How much the members of a blend were chosen on the very days that it counts: its figures are then those of the chosen. */
import { useQueries } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { number } from "../../lib/format.ts";
import { choosingOn } from "../trust/spent.ts";
import type { MemberFacts } from "./use-members.ts";

export function SpentWarning({ facts, names }: { readonly facts: readonly (MemberFacts | null)[]; readonly names: readonly string[] }) {
  const members = facts.flatMap((one, k) => (one ? [{ run: one.run, name: names[k]! }] : []));
  const contexts = useQueries({ queries: members.map(({ run }) => queries.trials(run.planId, run.id)) });
  const spent = members.flatMap(({ run, name }, i) => {
    const context = contexts[i]?.data;
    const variants = context ? choosingOn(context, run.settings).reduce((sum, stretch) => sum + stretch.variants, 0) : 0;
    return variants > 0 ? [`${name} out of ${number(variants)} variants`] : [];
  });
  if (spent.length === 0) return null;
  return (
    <p className="border-warn border-l-3 bg-warn-wash px-2.5 py-1.5 text-[13px] text-warn">
      <strong className="font-semibold">Before you believe it:</strong> chosen on days that are counted here: {spent.join(", ")}. That
      history is spent for the blend as well; only days that nothing was chosen on can tell.
    </p>
  );
}
