/** The printed comparison: each run's doubts first, then every figure beside the others with its definition. */
import { PLAIN_SETTINGS, type RunEvidence } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { FIGURES } from "../evidence/definitions.ts";
import { compareReportHtml } from "./compare-report.ts";

function runOf(id: string, netProfit: number, warning: string): RunEvidence {
  return {
    ...{
      id,
      planId: id,
      title: `Plan <${id}>`,
      kept: { name: id, note: "", tags: [] },
      fingerprint: `f-${id}`,
      dataHash: "d".repeat(20),
      source: id,
      inputs: {},
      inputSpecs: [],
    },
    settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2025-01-01", to: "2025-02-01", cash: 1000 },
    figures: { netProfit },
    ...{ warnings: warning ? [{ code: "few", text: warning, advice: "Wait." }] : [], trades: [{}, {}] },
    daily: { dates: ["2025-01-02", "2025-01-03"], equity: [1000, 1010, 1000 + netProfit] },
  } as unknown as RunEvidence;
}

test("each run's doubts, then all figures side by side, in text that can't act", () => {
  const html = compareReportHtml([runOf("a", 50, "Few trades"), runOf("b", -20, "")], "my note");
  const page = new DOMParser().parseFromString(html, "text/html");
  const heads = [...page.querySelectorAll("h2")].map((head) => head.textContent);
  expect(heads.slice(0, 2)).toEqual(["Before you believe it", "Figures"]);
  expect(page.querySelector(".w")!.textContent).toBe("1 · Few trades. Wait.");
  expect(page.body.textContent).toContain("my note");
  const net = [...page.querySelectorAll("tr")].find((row) => row.firstElementChild!.textContent === "Net profit")!;
  expect([...net.children].map((cell) => cell.textContent).slice(1, 3)).toEqual(["+50", "−20"]);
  expect(page.querySelectorAll("table")[0]!.querySelectorAll("tbody tr").length).toBe(FIGURES.length);
  expect(page.querySelector("figcaption")!.textContent).toContain("Return in percent");
  expect(page.querySelectorAll("script, a").length).toBe(0);
});
