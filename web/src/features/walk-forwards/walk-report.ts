/** A walk-forward as one HTML file to read and to print: its outcome, the stitched curve, and every window. */
import type { RunEvidence, WalkForwardDetail } from "@plan-tester/contract";
import { fallsOf, SWEEP_FIGURES, timeframeLabel } from "@plan-tester/core";
import { aimWords } from "../../lib/aims.ts";
import { money, number, percent, periodWords, signedMoney, timeAt } from "../../lib/format.ts";
import { curves, doubtsPart, reportPage, right, safe, section, table } from "../../lib/html-report.ts";
import { stitchedWords } from "./stitched-words.ts";

const at = (figure: (typeof SWEEP_FIGURES)[number]): number => SWEEP_FIGURES.indexOf(figure);

/** @param stitched its out-of-sample curve as a run; null while there is none */
export function walkReportHtml(walk: WalkForwardDetail, stitched: RunEvidence | null): string {
  const { request, windows, inputSpecs, variants, efficiency, planTitle, createdMs } = walk;
  const walked = windows.filter(({ inputs }) => inputs !== null);
  const gained = walked.filter(({ outFigures }) => (outFigures[at("netProfit")] ?? 0) > 0).length;
  const net = walked.reduce((sum, { outFigures }) => sum + (outFigures[at("netProfit")] ?? 0), 0);
  const varied = request.ranges.flatMap(({ input }) => inputSpecs.find(({ name }) => name === input) ?? []);
  const { settings } = request;
  const equity = stitched?.daily.equity ?? [];
  return reportPage({
    title: `Walk-forward of ${planTitle}`,
    about: `${settings.symbol} ${timeframeLabel(settings.timeframe)}, ${periodWords(settings)} · made ${timeAt(createdMs, "UTC")} UTC`,
    note: "",
    parts: [
      `<p>${safe(`${number(variants)} settings in each window, chosen by ${aimWords(request.aim)} on ${number(request.inSample)} sessions${request.anchored ? " or more, always from the start," : ""} and tried, unchanged, on the next ${number(request.outOfSample)}.`)}</p>`,
      doubtsPart(stitched?.warnings ?? []),
      section(
        "Outcome",
        `<p>Out-of-sample it made ${signedMoney(net)}, gaining in ${number(gained)} of ${number(walked.length)} windows${efficiency === null ? "" : `: ${percent(efficiency, 0)} of what the chosen settings had made a session where they were chosen`}. Walk-forward efficiency is net a session out-of-sample over net a session in-sample (Pardo 2008).</p>`,
      ),
      stitched ? `<p>${safe(stitchedWords(stitched))}</p>` : "",
      stitched && equity.length > 1
        ? curves(
            [{ name: "stitched", values: equity }],
            fallsOf(equity, stitched.settings.cash),
            "Equity of the out-of-sample stretches one after the other; below it the fall from its peak.",
          )
        : "",
      section(
        "Window by window",
        table(
          [
            ...[right("#"), "Chosen on", "Tried on", ...varied.map(({ label }) => right(label))],
            ...[right("Net in-sample"), right("Net out-of-sample"), right("Trades"), right("Drawdown"), right("Efficiency")],
          ],
          windows.map(({ inSample, outOfSample, inputs, inFigures, outFigures, efficiency: own }, k) => [
            ...[right(String(k + 1)), periodWords(inSample), periodWords(outOfSample)],
            ...varied.map(({ name }) => right(inputs ? String(inputs[name]) : "–")),
            ...[right(signedMoney(inFigures[at("netProfit")])), right(signedMoney(outFigures[at("netProfit")]))],
            ...[right(number(outFigures[at("trades")])), right(money(outFigures[at("maxDrawdown")])), right(percent(own, 0))],
          ]),
        ),
      ),
    ],
  });
}
