/** Figures that seem to contradict one another, and why both can be true. */
import { number, signed } from "../../lib/format.ts";
import type { EvidenceView } from "../run-view/view.ts";

type Facts = Pick<EvidenceView, "figures" | "trades">;

const opposed = (a: number | null, b: number | null): boolean => a !== null && b !== null && a * b < 0;

/** Whether every trade had a known risk: then the SQN is made of R. */
const isByRisk = ({ trades }: Facts): boolean => trades.length > 0 && trades.every(({ r }) => r !== null);

const sizesDiffer = ({ trades }: Facts): boolean => trades.some(({ quantity }) => quantity !== trades[0]!.quantity);

/** A sentence for each. */
export function contradictions(facts: Facts): string[] {
  const { figures, trades } = facts;
  const { netProfit, averageTradeTicks, averageTradeR, sqn, profitFactor } = figures;
  const told: string[] = [];
  const symbols = new Set(trades.map(({ symbol }) => symbol)).size;
  if (opposed(averageTradeTicks, netProfit))
    told.push(
      symbols > 1
        ? `The average trade is ${signed(averageTradeTicks, 2)} ticks beside a net of ${signed(netProfit)}: a tick of one instrument is worth more money than one of another.`
        : `The average trade is ${signed(averageTradeTicks, 2)} ticks beside a net of ${signed(netProfit)}: ticks are of one unit, and ${sizesDiffer(facts) ? "larger trades went the other way than smaller ones" : "costs per order weigh otherwise"}.`,
    );
  if (isByRisk(facts) && opposed(averageTradeR, netProfit))
    told.push(
      `The average trade is ${signed(averageTradeR, 2)} R${opposed(sqn, netProfit) ? ` (and the SQN ${number(sqn, 2)})` : ""} beside a profit factor of ${number(profitFactor, 2)}: R counts each trade by what it risked, money by what it made, so trades with much at risk went the other way than those with little.`,
    );
  return told;
}
