import type { PlanSummary, RunSummary } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { show } from "../../testing.tsx";
import { PlanMarket } from "./plans-page.tsx";

const plan = (run: { symbol: string; timeframe: string; alsoOn: string[] } | null) => ({
  ...{ symbol: "ORM", timeframe: "1h" },
  lastRun: run && ({ settings: run } as unknown as RunSummary),
});
const textOf = async (summary: Pick<PlanSummary, "symbol" | "timeframe" | "lastRun">): Promise<string> =>
  (await show(<PlanMarket plan={summary} />)).textContent ?? "";

test("the market is that of the figures beside it; the draft's is said where it is another", async () => {
  expect(await textOf(plan(null))).toBe("ORM 1 h");
  expect(await textOf(plan({ symbol: "ORM", timeframe: "1h", alsoOn: [] }))).toBe("ORM 1 h");
  expect(await textOf(plan({ symbol: "KELP", timeframe: "15m", alsoOn: ["BRIN", "TIDE"] }))).toBe("KELP 15 min and 2 othersdraft: ORM 1 h");
});
