/** Rule by rule: the verdict in words, then the figures it rests on. */
import type { RuleAnswer, RuleFigures, RulesAnswer } from "@plan-tester/contract";
import type { TradeSum } from "@plan-tester/core";
import { Fragment, type ReactNode } from "react";
import { count, money, number, percent, signedMoney } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { EarnedBand } from "./earned-band.tsx";
import { ruleVerdict, type Standing, yearly } from "./rule-verdict.ts";

const MARKS: Readonly<Record<Standing, string>> = {
  earns: "border-gain bg-gain-wash",
  costs: "border-loss bg-loss-wash",
  nothing: "border-rule bg-sunk",
  open: "border-accent bg-accent-wash",
};

export function RulesList({ answer, onLine }: { readonly answer: RulesAnswer; readonly onLine: (line: number) => void }) {
  const { rules, figures } = answer;
  const reach = Math.max(...rules.flatMap(({ low, high, earned }) => [-low, high, Math.abs(earned)]), 0);
  return (
    <div className="text-[13px]">
      <p className="text-soft">
        The plan as it is: net <Amount value={figures.netProfit} />, deepest fall {money(figures.maxDrawdown)}, average trade{" "}
        {signedMoney(figures.averageTrade)}, {count(figures.trades, "trade")}.
      </p>
      <ul className="flex flex-col">
        {rules.map((rule) => (
          <Rule key={rule.key} rule={rule} whole={figures} reach={reach} onLine={onLine} />
        ))}
      </ul>
    </div>
  );
}

interface RuleProps {
  readonly rule: RuleAnswer;
  readonly whole: RuleFigures;
  readonly reach: number;
  readonly onLine: (line: number) => void;
}

function Rule({ rule, whole, reach, onLine }: RuleProps) {
  const { label, line, without, earned, low, high, halves, placebos, asGood, share, figures, keptOut, letIn } = rule;
  const { standing, text } = ruleVerdict(rule);
  return (
    <li aria-label={label} className="flex flex-col gap-1.5 border-rule border-b py-2.5">
      <div className="flex flex-wrap items-baseline gap-x-2">
        <button
          type="button"
          className="text-left font-semibold text-[14px] hover:underline"
          onClick={() => onLine(line)}
          title={`Line ${line}`}
        >
          {label}
        </button>
        <span className="text-soft">taken out: {without === "always" ? "counts as true" : "never holds"}</span>
      </div>
      <p className={`border-l-3 px-2 py-0.5 ${MARKS[standing]}`}>{text}</p>
      <div className="flex flex-wrap gap-x-6 gap-y-2">
        <Part title="Earned a year" className="w-44">
          <div className="whitespace-nowrap">
            <span className="font-semibold">{yearly(earned)}</span>{" "}
            <span className="text-soft">
              {yearly(low)} to {yearly(high)}
            </span>
          </div>
          <EarnedBand {...{ earned, low, high, reach }} />
          <div className="whitespace-nowrap text-soft">
            halves {yearly(halves[0])}, {yearly(halves[1])}
          </div>
        </Part>
        <Part title="Placebos as good">
          {share === null ? (
            "none asked"
          ) : (
            <>
              <div className="font-semibold">
                {number(asGood)} of {number(placebos)}
              </div>
              <div className="text-soft">chance {percent(share, 0)}</div>
            </>
          )}
        </Part>
        <Part title="Without it">
          <Without figures={figures} whole={whole} />
        </Part>
        <Part title="Its trades">
          <dl className={list}>
            <Sum label="kept out" of={keptOut} />
            <Sum label="let in" of={letIn} />
          </dl>
        </Part>
      </div>
    </li>
  );
}

const list = "grid grid-cols-[auto_auto_auto] gap-x-3 whitespace-nowrap [&>dd]:text-right [&>dd]:tabular-nums";

function Part({ title, className = "", children }: { readonly title: string; readonly className?: string; readonly children: ReactNode }) {
  return (
    <div className={className}>
      <h3 className="text-soft">{title}</h3>
      {children}
    </div>
  );
}

function Without({ figures, whole }: { readonly figures: RuleFigures; readonly whole: RuleFigures }) {
  const rows = [
    ["net", "netProfit", signedMoney],
    ["deepest fall", "maxDrawdown", money],
    ["average trade", "averageTrade", signedMoney],
  ] as const;
  return (
    <dl className={list}>
      {rows.map(([label, figure, words]) => {
        const [now, without] = [whole[figure], figures[figure]];
        return (
          <Fragment key={label}>
            <dt className="text-soft">{label}</dt>
            <dd>{words(without)}</dd>
            <dd className="text-soft">{now !== null && without !== null ? `${signedMoney(now - without)} by it` : ""}</dd>
          </Fragment>
        );
      })}
    </dl>
  );
}

function Sum({ label, of: { trades, net } }: { readonly label: string; readonly of: TradeSum }) {
  return (
    <>
      <dt className="text-soft">{label}</dt>
      <dd>{number(trades)}</dd>
      <dd>{trades > 0 ? <Amount value={net} /> : null}</dd>
    </>
  );
}
