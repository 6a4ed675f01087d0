/** What the eye lands on: the sentence of the joint fall, and the joint fall beside those of the members. */
import type { BlendSetup } from "@plan-tester/contract";
import { currencyWord } from "../../data/markets.ts";
import { dayAt, money, number, percent } from "../../lib/format.ts";
import { countWord } from "./blend-words.ts";
import type { QuickAnswer, SlowAnswer } from "./blend-work.ts";

export interface BlendHeadProps {
  readonly setup: BlendSetup;
  readonly quick: QuickAnswer;
  readonly slow: SlowAnswer | null;
}

export function BlendHead({ setup, quick, slow }: BlendHeadProps) {
  const { cash, tolerated } = setup;
  const active = quick.units.filter((size) => size > 0).length;
  const { drawdown } = quick.figures;
  const word = currencyWord(setup.currency);
  if (active === 0)
    return (
      <p role="status" className="font-semibold text-[17px]">
        {slow?.isStill
          ? "Nothing fell at these weights: sizes can’t be told from that. Set them by hand."
          : `On ${number(cash)} ${word} nothing can be traded${slow?.least ? `: all members together need ${number(slow.least)}` : ""}.`}
      </p>
    );
  const isWithin = drawdown.share * 100 <= tolerated * (1 + 1e-9);
  return (
    <p role="status" className="text-[17px] leading-7">
      On <strong>{number(cash)}</strong> {word} {active === 1 ? "this one" : `these ${countWord(active)}`} would have fallen{" "}
      <strong className={isWithin ? "" : "text-loss"}>{percent(drawdown.share)}</strong> at worst
      {isWithin ? "" : `, more than the ${number(tolerated)} % tolerated`}; be ready for{" "}
      <strong>{slow?.ahead ? percent(slow.ahead.likely / cash) : "…"}</strong>.
    </p>
  );
}

/** What must be known of the days before any figure is believed. */
export function DaysWarning({ setup, quick: { shared, isShorter } }: Pick<BlendHeadProps, "setup" | "quick">) {
  if (!isShorter) return null;
  const from = shared && `${dayAt(shared.from, "UTC")} to ${dayAt(shared.to, "UTC")}`;
  if (setup.days === "shared" && from)
    return <p className="text-[13px] text-soft">All members ran from {from}: only these days are counted.</p>;
  return (
    <p className="border-loss border-l-3 bg-loss-wash px-2.5 py-1.5 text-[13px]">
      {from
        ? `The members ran on different days, all of them only from ${from}. On the other days those that did not run can’t fall.`
        : "The members have no day in common: falls together can’t be told from them. Run them on the same period."}
    </p>
  );
}

/** Rows of a figure each, with what it means. */
export function BlendFacts({ setup, quick, slow }: BlendHeadProps) {
  const { cash, currency } = setup;
  const { figures, peak } = quick;
  const word = currencyWord(currency);
  const saved = figures.sumOfDrawdowns > 0 ? 1 - figures.drawdown.money / figures.sumOfDrawdowns : null;
  const rows: readonly (readonly [string, string, string])[] = [
    ["Net profit", money(figures.profit), `${percent(figures.profit / cash)} of the account`],
    [
      "Joint fall",
      money(figures.drawdown.money),
      `${percent(figures.drawdown.share)} of the account, ${percent(figures.relative)} of its peak`,
    ],
    ["Members’ falls added up", money(figures.sumOfDrawdowns), saved === null ? "" : `blending spared ${percent(saved, 0)} of it`],
    ["Return over drawdown", number(figures.returnToDrawdown, 2), "profit over the joint fall"],
    [
      "Be ready for",
      slow?.ahead ? money(slow.ahead.likely) : "…",
      slow?.ahead
        ? `95 % of ${number(slow.ahead.draws)} draws fall less; half: ${money(slow.ahead.middle)}, 99 %: ${money(slow.ahead.rare)}`
        : "resampled days",
    ],
    ["Chance of more than tolerated", slow?.ahead ? percent(slow.ahead.beyond) : "…", `in as many days as these ${number(quick.days)}`],
    ["Least account for all", slow?.least ? number(slow.least) : slow ? "–" : "…", `${word}, every member at its smallest size or more`],
    [
      "Largest position value",
      percent(peak.value, 0),
      peak.margin > 0 ? `of the account; margin up to ${percent(peak.margin, 0)}` : "of the account",
    ],
  ];
  return (
    <table className="w-full text-[13px] tabular-nums">
      <caption className="sr-only">Figures of the blend</caption>
      <tbody>
        {rows.map(([label, value, about]) => (
          <tr key={label} className="border-rule/60 border-b align-baseline">
            <th scope="row" className="py-1 pr-2 text-left font-normal">
              {label}
              <span className="block text-[12px] text-soft leading-tight">{about}</span>
            </th>
            <td className="py-1 text-right font-semibold">{value}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
