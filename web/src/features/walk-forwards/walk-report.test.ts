/** The printed walk-forward: its outcome in one sentence, and every window as it was. */
import { PLAIN_SETTINGS, type WalkForwardDetail } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { expect, test } from "vitest";
import { percent } from "../../lib/format.ts";
import { walkReportHtml } from "./walk-report.ts";

const figures = (netProfit: number): (number | null)[] =>
  SWEEP_FIGURES.map((name) => (name === "netProfit" ? netProfit : name === "trades" ? 7 : null));
const period = (from: string, to: string) => ({ from, to, sessions: 20 });
const window = (inNet: number, outNet: number, span: number | null) => ({
  ...{ inSample: period("2024-01-02", "2024-02-01"), outOfSample: period("2024-02-02", "2024-03-01") },
  ...{ inputs: span === null ? null : { span }, inFigures: figures(inNet), outFigures: figures(outNet), efficiency: outNet / inNet },
});
const WALK = {
  ...{ id: "w", planId: "p", planTitle: "Fade <i>", status: "complete", variants: 12, createdMs: 0, elapsedMs: 1, error: "", runId: "" },
  ...{ efficiency: 0.4, total: 3, source: "", inputSpecs: [{ name: "span", label: "Span", kind: "whole", default: 10 }] },
  windows: [window(100, 60, 20), window(100, -20, 30), window(100, 0, null)],
  request: {
    ...{ settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-01-02", to: "2024-03-01" }, anchored: false },
    ...{ ranges: [{ input: "span", values: [20, 30] }], aim: "netProfit", inSample: 20, outOfSample: 20 },
  },
} as unknown as WalkForwardDetail;

test("what it made out of sample, in how many windows, and each window's choice", () => {
  const page = new DOMParser().parseFromString(walkReportHtml(WALK, null), "text/html");
  expect(page.querySelector("h1")!.textContent).toBe("Walk-forward of Fade <i>");
  expect(page.body.textContent).toContain(`Out-of-sample it made +40, gaining in 1 of 2 windows: ${percent(0.4, 0)} of what`);
  const rows = [...page.querySelectorAll("tbody tr")].map((row) => [...row.children].map((cell) => cell.textContent));
  expect(rows.map((row) => [row[0], row[3], row[5], row[6]])).toEqual([
    ["1", "20", "+60", "7"],
    ["2", "30", "−20", "7"],
    ["3", "–", "0", "7"],
  ]);
  expect(page.querySelectorAll("i, script").length).toBe(0);
});
