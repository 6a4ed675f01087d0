/** A blend as one HTML file to read and to print: doubts first, then figures with what they mean, pictures, settings. */
import type { BlendBody } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { currencyWord } from "../../data/markets.ts";
import { dayAt, money, number, percent, signedMoney, units } from "../../lib/format.ts";
import { curves, type Doubt, doubtsPart, reportPage, right, safe, section, table } from "../../lib/html-report.ts";
import { BLEND_DAYS_WORDS, BLEND_FALL_WORDS, WEIGHTING_WORDS } from "./blend-words.ts";
import type { QuickAnswer, SlowAnswer } from "./blend-work.ts";
import { inputsText, type TradeRow } from "./settings-to-trade.tsx";

export interface BlendReport {
  readonly body: BlendBody;
  readonly fingerprint: string;
  readonly names: readonly string[];
  readonly quick: QuickAnswer;
  readonly slow: SlowAnswer | null;
  readonly rows: readonly TradeRow[];
  readonly zone: string;
}

function doubtsOf({ body: { setup }, quick, slow, names }: BlendReport): Doubt[] {
  const found: Doubt[] = [];
  const { drawdown } = quick.figures;
  if (drawdown.share * 100 > setup.tolerated)
    found.push({
      text: `It would have fallen ${percent(drawdown.share)}, more than the ${number(setup.tolerated)} % tolerated`,
      advice: "Make sizes smaller, or the account larger.",
    });
  for (const { a, b, correlation, shared } of quick.twins)
    found.push({
      text: `Twins: ${names[a]} and ${names[b]}`,
      advice: `Their daily results correlate ${number(correlation, 2)}, and ${percent(shared, 0)} of entries lie inside a trade of the other. They are one bet of twice the size.`,
    });
  if (quick.isShorter)
    found.push({
      text: quick.shared
        ? `All members ran only from ${dayAt(quick.shared.from, "UTC")} to ${dayAt(quick.shared.to, "UTC")}`
        : "The members have no day in common",
      advice: "What one did not go through with the others can’t be told.",
    });
  if (slow?.gain && slow.gain.luck > 0.05)
    found.push({
      text: "Luck can explain what the weights gain",
      advice: `On the days they were not chosen by they do no better than equal drawdowns in ${percent(slow.gain.luck, 0)} of the draws.`,
    });
  return found;
}

export function blendReportHtml(report: BlendReport): string {
  const { body, fingerprint, names, quick, slow, rows, zone } = report;
  const { setup } = body;
  const { figures, peak } = quick;
  const word = currencyWord(setup.currency);
  const share = (amount: number): string => `${money(amount)} (${percent(amount / setup.cash)})`;
  const whole: readonly (readonly [string, string, string])[] = [
    ["Net profit", money(figures.profit), "what the members made at these sizes, added up"],
    [
      "Joint fall",
      share(figures.drawdown.money),
      "largest drawdown of the joint curve at the closes of all bars, of the account it began with",
    ],
    ["Members’ falls added up", money(figures.sumOfDrawdowns), "each member’s own deepest fall, at its own time"],
    ["Return over drawdown", number(figures.returnToDrawdown, 2), "net profit over the joint fall"],
    ["Be ready for", slow?.ahead ? share(slow.ahead.likely) : "–", "95 % of resampled days, in blocks, fall less (Politis & Romano 1994)"],
    ["Chance of more than tolerated", percent(slow?.ahead?.beyond ?? null), "share of those draws that fall by more"],
    ["Least account for all", number(slow?.least), `${word}, every member at its smallest size or more`],
    ["Largest position value", percent(peak.value, 0), `of the account; largest margin ${percent(peak.margin, 0)}`],
  ];
  return reportPage({
    title: body.name,
    about: `Blend of ${names.length} · ${number(quick.days)} days · fingerprint ${fingerprint}`,
    note: body.note,
    parts: [
      `<p>${safe(`On an account of ${number(setup.cash)} ${word}, sized ${WEIGHTING_WORDS[setup.weighting]}, tolerating a fall of ${number(setup.tolerated)} % ${BLEND_FALL_WORDS[setup.fall]}, over ${BLEND_DAYS_WORDS[setup.days]}, with ${number(setup.allowance)} % added for a worse future.`)}</p>`,
      doubtsPart(doubtsOf(report)),
      curves(
        [{ name: "the blend", values: quick.chart.joint }, ...quick.chart.members.map((values, k) => ({ name: names[k]!, values }))],
        quick.chart.fall,
        "Profit of the blend and its members at the closes of bars; below, how far the blend is under its peak.",
      ),
      section(
        "Figures",
        table(
          ["Figure", right("Value"), "Definition"],
          whole.map(([label, value, definition]) => [label, right(value), definition]),
        ),
      ),
      slow?.ahead
        ? section(
            "How deep it could fall",
            table(
              ["Draws that fall by no more", right("Fall"), "Definition"],
              slow.ahead.bands.map(({ share: part, fall }) => [
                percent(part, 0),
                right(share(fall)),
                `of ${number(slow.ahead!.draws)} draws of these days in blocks (Politis & Romano 1994)`,
              ]),
            ),
          )
        : "",
      section(
        "Members",
        table(
          [
            "Member",
            right("Size"),
            right("Balance per step"),
            right("Net"),
            right("Falls alone"),
            right("In the joint fall"),
            right("Share of risk"),
            right("Without it"),
          ],
          names.map((name, k) => {
            const part = figures.members[k]!;
            return [
              name,
              right(units(quick.units[k])),
              right(number(slow?.sizes.balances[k])),
              right(signedMoney(part.profit)),
              right(money(part.drawdown.money)),
              right(signedMoney(-part.atLow || 0)),
              right(percent(part.volatility, 0)),
              right(money(part.without.drawdown.money)),
            ];
          }),
        ),
      ),
      section(
        "Correlation of daily results",
        table(
          ["", ...names.map((_name, k) => right(String(k + 1)))],
          quick.correlations.map((row, a) => [`${a + 1} · ${names[a]}`, ...row.map((value, b) => right(a === b ? "–" : number(value, 2)))]),
        ),
      ),
      section(
        "Shared falls",
        table(
          ["From peak to low", right("Fell"), ...names.map((_name, k) => right(String(k + 1)))],
          quick.falls.map(({ depth, parts }, i) => {
            const { start, low } = quick.fallTimes[i]!;
            return [
              `${start === null ? "the beginning" : dayAt(start, zone)} – ${dayAt(low, zone)}`,
              right(money(depth)),
              ...parts.map((part) => right(signedMoney(-part || 0))),
            ];
          }),
        ),
      ),
      section(
        "Settings to trade",
        table(
          ["Plan", "On", "Inputs", "Exit kit", right("Size")],
          rows.map((row) => [
            row.plan,
            `${row.instrument} ${timeframeLabel(row.timeframe)}`,
            inputsText(row.inputs),
            row.kitWords,
            right(units(row.size)),
          ]),
        ),
      ),
    ],
  });
}
