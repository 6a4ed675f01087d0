/** The printed blend: doubts ahead of figures, every figure with its meaning, and no name that could act. */
import type { BlendSetup } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { money, percent } from "../../lib/format.ts";
import { blendReportHtml } from "./blend-report.ts";
import { BlendWork, type WorkMember } from "./blend-work.ts";
import { type TradeRow, tradeRows, watchStarts } from "./settings-to-trade.tsx";
import type { MemberFacts } from "./use-members.ts";

const DAY = 86_400_000;
const START = Date.UTC(2024, 0, 1);
const trades = [{ symbol: "KELP", side: 1 as const, entryTime: START + DAY, exitTime: START + 9 * DAY }];

function member(firstDay: number): WorkMember {
  let equity = 1000;
  const time = Float64Array.from({ length: 80 }, (_none, i) => START + (firstDay + i) * DAY + DAY / 2);
  return {
    ...{ time, cash: 1000, rate: 1, trades, base: 1, instrument: { minQuantity: 1, quantityStep: 1 }, marginPerUnit: 0 },
    equity: time.map((ms) => (equity += ((ms / DAY) % 7) - 3.4)),
    ...{ value: new Float64Array(80).fill(100), margin: new Float64Array(80) },
  };
}

const setup: BlendSetup = {
  ...{
    cash: 50,
    currency: "XSC",
    rates: {},
    tolerated: 20,
    allowance: 0,
    fall: "measured",
    weighting: "by hand",
    days: "shared",
    chosenBy: 60,
  },
  members: [
    { runId: "a", size: 1 },
    { runId: "b", size: 2 },
  ],
};
const work = new BlendWork({ members: [member(0), member(10)], zone: "UTC" }, "shared");
const quick = work.quick(setup);
const slow = work.slow(setup, quick.units);
const names = ["<script>alert(1)</script>", "Ebb & flow"];
const factsOf = (title: string, id: string): MemberFacts =>
  ({
    run: { id, planId: id, title, kept: null, inputs: { span: 20 }, settings: { symbol: "KELP", timeframe: "15m", kit: null } },
    ...{ base: 1, step: { minQuantity: 1, quantityStep: 1 }, currency: "XSC" },
  }) as unknown as MemberFacts;

const rows: TradeRow[] = tradeRows({ setup, names, facts: [factsOf(names[0]!, "a"), factsOf(names[1]!, "b")], quick, slow });
const html = blendReportHtml({
  ...{ body: { name: "Two <b>", note: "mine", setup }, fingerprint: "f00d", names, quick, slow, rows, zone: "UTC" },
});
const page = new DOMParser().parseFromString(html, "text/html");

test("doubts come first: the fall against what is tolerated, twins with their reason, days that not all ran", () => {
  const heads = [...page.querySelectorAll("h2")].map((head) => head.textContent);
  expect(heads).toEqual([
    "Before you believe it",
    "Figures",
    "How deep it could fall",
    "Members",
    "Correlation of daily results",
    "Shared falls",
    "Settings to trade",
  ]);
  const doubts = [...page.querySelectorAll(".w strong")].map((doubt) => doubt.textContent!);
  expect(doubts[0]).toMatch(/^It would have fallen .* more than the 20 % tolerated\.$/);
  expect(doubts[1]).toBe("Twins: <script>alert(1)</script> and Ebb & flow.");
  expect(doubts[2]).toBe("All members ran only from 11 Jan 2024 to 20 Mar 2024.");
  expect([...page.querySelectorAll(".w")][1]!.textContent).toContain(`${percent(1, 0)} of entries lie inside a trade of the other`);
});

test("a name can't act, and nothing is fetched", () => {
  expect(page.querySelectorAll("script, img, link, b").length).toBe(0);
  expect(page.title).toBe("Two <b>");
  expect(html).not.toMatch(/https?:\/\//);
});

test("figures say what they are, members add up, and what to trade is all there", () => {
  const figure = (label: string): string =>
    [...page.querySelectorAll("tr")].find((row) => row.firstElementChild!.textContent === label)!.textContent!;
  expect(figure("Joint fall")).toContain("largest drawdown of the joint curve");
  expect(figure("Be ready for")).toContain("Politis & Romano 1994");
  expect(figure(percent(0.95, 0))).toContain(money(slow.ahead!.likely));
  expect(figure(percent(0.99, 0))).toContain(money(slow.ahead!.rare));
  expect(rows.map(({ size, step, balancePerStep }) => [size, step, balancePerStep])).toEqual([
    [1, 1, slow.sizes.balances[0]],
    [2, 1, slow.sizes.balances[1]],
  ]);
  expect(page.querySelector("table:last-of-type")!.textContent).toContain("Ebb & flowKELP 15 minspan 20none2");
  expect(page.querySelectorAll("figure path").length).toBeGreaterThan(3);
});

test("what is set to watch has the sizes of the table, also where they are those of the run, and the blend's cash", () => {
  const facts = [factsOf("One", "a"), { ...factsOf("Two", "b"), base: null }];
  const [one, whole] = watchStarts({ setup, names, facts, quick });
  expect(one).toMatchObject({ planId: "a", settings: { cash: 50, kit: { size: { by: "units", value: 1 } } } });
  // Entries of several sizes stay the plan's own.
  expect(whole!.settings.kit).toBeNull();
});
