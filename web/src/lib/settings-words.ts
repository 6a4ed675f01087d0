import type { RunSettings } from "@plan-tester/contract";

/** "market costs", "2 × custom costs". */
export function costsWords({ costs, costsScale = 1 }: Pick<RunSettings, "costs" | "costsScale">): string {
  const kind = costs === "market" ? "market costs" : costs === "none" ? "no costs" : "custom costs";
  return costsScale === 1 ? kind : `${costsScale} × ${kind}`;
}
