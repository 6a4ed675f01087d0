/** The members of a blend: sizes under one's hand, and what each has to do with the whole. */
import type { BlendSetup } from "@plan-tester/contract";
import { balanceOfSmallest } from "@plan-tester/core";
import { X } from "lucide-react";
import { Link } from "react-router";
import { money, number, percent } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { num, td, tdText } from "../../ui/page.tsx";
import { lookOf } from "./blend-chart.tsx";
import { memberMarket } from "./blend-words.ts";
import type { QuickAnswer, SlowAnswer } from "./blend-work.ts";
import type { MemberFacts } from "./use-members.ts";

export interface MembersTableProps {
  readonly setup: BlendSetup;
  readonly names: readonly string[];
  readonly facts: readonly (MemberFacts | null)[];
  readonly errors: readonly (Error | null)[];
  readonly quick: QuickAnswer | null;
  readonly slow: SlowAnswer | null;
  readonly onSize: (k: number, size: number) => void;
  readonly onRemove: (k: number) => void;
}

const HEADS = [
  ["Size", "units of an entry"],
  ["Balance per step", "account for one more step of size"],
  ["Net profit", "at that size"],
  ["Falls alone", "deepest, at its own time"],
  ["In the joint fall", "lost from the blend’s peak to its low"],
  ["Share of risk", "of the variance of daily results"],
  ["Without it", "the blend would have fallen"],
] as const;

const head = "border-rule border-b px-3 py-1.5 text-[13px] font-normal text-soft align-bottom";

export function MembersTable(props: MembersTableProps) {
  const { setup, facts, quick } = props;
  return (
    <div className="overflow-x-auto">
      <table className="w-full tabular-nums">
        <caption className="sr-only">Members, their sizes and their part in the blend</caption>
        <thead>
          <tr>
            <th className={`${head} text-left`}>Member</th>
            {HEADS.map(([label, about]) => (
              <th key={label} className={`${head} ${num}`} title={about}>
                {label}
              </th>
            ))}
            <th className={head}>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {setup.members.map(({ runId }, k) => (
            <MemberRow key={runId} {...props} k={k} runId={runId} />
          ))}
        </tbody>
        {quick && facts.length > 0 ? <Total quick={quick} /> : null}
      </table>
    </div>
  );
}

function MemberRow({
  setup,
  names,
  facts,
  errors,
  quick,
  slow,
  onSize,
  onRemove,
  k,
  runId,
}: MembersTableProps & { readonly k: number; readonly runId: string }) {
  const one = facts[k] ?? null;
  const name = names[k]!;
  const size = quick?.units[k] ?? setup.members[k]!.size;
  const part = quick?.figures.members[k];
  const balance = slow?.sizes.balances[k];
  const error = errors[k];
  const isLeftOut = setup.members[k]!.size === 0;
  const isTooLarge = !isLeftOut && size === 0 && quick !== null;
  return (
    <tr className={size === 0 ? "text-soft" : ""}>
      <td className={tdText}>
        <span className="flex items-baseline gap-2">
          <Swatch k={k} />
          <span className="min-w-0">
            <Link to={`/runs/${runId}`} className="font-semibold hover:underline">
              {name}
            </Link>{" "}
            <span className="text-[13px] text-soft">{one ? memberMarket(one) : ""}</span>
            {error ? <span className="block text-[13px] text-loss">{error.message}</span> : null}
            {one && one.base === null ? (
              <span className="block text-[12px] text-soft">its entries were of several sizes: counted in whole runs</span>
            ) : null}
            {isTooLarge ? (
              <span className="block text-[12px] text-loss">
                the account is too small for it
                {balance ? `: ${number(one ? balanceOfSmallest(one.step, balance) : balance)} would carry its smallest size` : ""}
              </span>
            ) : null}
          </span>
        </span>
      </td>
      <td className={`${td} ${num}`}>
        <span className="flex justify-end">
          <NumberInput
            aria-label={`Size of ${name}`}
            className="w-20 text-right"
            value={size}
            min={0}
            max={1e9}
            disabled={one === null}
            onChange={(next) => onSize(k, next)}
          />
        </span>
      </td>
      <td className={`${td} ${num}`}>{slow ? number(balance) : "…"}</td>
      <td className={`${td} ${num}`}>{part ? <Amount value={part.profit} /> : ""}</td>
      <td className={`${td} ${num}`}>
        {part ? money(part.drawdown.money) : ""} <span className="text-soft">{part ? percent(part.drawdown.share) : ""}</span>
      </td>
      <td className={`${td} ${num}`}>{part ? <Amount value={-part.atLow || 0} /> : ""}</td>
      <td className={`${td} ${num}`}>{part ? percent(part.volatility, 0) : ""}</td>
      <td className={`${td} ${num}`}>
        {part ? money(part.without.drawdown.money) : ""}{" "}
        <span className="text-soft">{part ? percent(part.without.drawdown.share) : ""}</span>
      </td>
      <td className={td}>
        <Button variant="quiet" aria-label={`Remove ${name} from the blend`} onClick={() => onRemove(k)}>
          <X size={14} aria-hidden />
        </Button>
      </td>
    </tr>
  );
}

function Swatch({ k }: { readonly k: number }) {
  const { color, dash } = lookOf(k);
  return (
    <svg width="22" height="6" aria-hidden className="shrink-0 self-center">
      <line x1="0" x2="22" y1="3" y2="3" stroke={`var(--${color})`} strokeWidth="2" strokeDasharray={dash.join(" ")} />
    </svg>
  );
}

function Total({ quick: { figures } }: { readonly quick: QuickAnswer }) {
  const cell = `${td} ${num} font-semibold border-rule border-t`;
  return (
    <tfoot>
      <tr>
        <th scope="row" className={`${td} border-rule border-t text-left font-semibold`}>
          The blend
        </th>
        <td className={cell} />
        <td className={cell} />
        <td className={cell}>
          <Amount value={figures.profit} />
        </td>
        <td className={cell} title="The members’ own deepest falls added up">
          {money(figures.sumOfDrawdowns)} <span className="font-normal text-soft">together</span>
        </td>
        <td className={cell}>
          <Amount value={-figures.drawdown.money || 0} />
        </td>
        <td className={cell}>{percent(1, 0)}</td>
        <td className={cell}>
          {money(figures.drawdown.money)} <span className="font-normal text-soft">{percent(figures.drawdown.share)}</span>
        </td>
        <td className={`${td} border-rule border-t`} />
      </tr>
    </tfoot>
  );
}
