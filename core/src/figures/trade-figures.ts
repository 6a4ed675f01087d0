/** Figures of closed trades. Money is net of all costs unless the name says gross; what is undefined is null. */
import type { Trade } from "../engine/orders.ts";
import type { Instrument } from "../market/instrument.ts";
import { isNoise, ratio, sampleDeviation } from "./statistics.ts";
import { costsOf } from "./trade-facts.ts";

export interface TradeFigures {
  readonly netProfit: number;
  readonly grossProfit: number;
  readonly grossLoss: number;
  readonly trades: number;
  readonly wins: number;
  readonly losses: number;
  readonly even: number;
  readonly winRate: number | null;
  readonly averageTrade: number | null;
  readonly averageTradeTicks: number | null;
  readonly averageTradeR: number | null;
  readonly averageWin: number | null;
  readonly averageLoss: number | null;
  readonly payoffRatio: number | null;
  readonly profitFactor: number | null;
  readonly largestWin: number | null;
  readonly largestLoss: number | null;
  readonly longestWinningStreak: number;
  readonly longestLosingStreak: number;
  /** Net result of the losing trades in a row that lost most; 0 without a losing trade. */
  readonly worstLosingStreak: number;
  readonly averageBarsHeld: number | null;
  readonly averageBarsWins: number | null;
  readonly averageBarsLosses: number | null;
  readonly commission: number;
  readonly spread: number;
  readonly slippage: number;
  readonly financing: number;
  readonly costs: number;
  readonly costShare: number | null;
  readonly costPerTradeTicks: number | null;
  readonly sqn: number | null;
  readonly kelly: number | null;
  readonly averageMae: number | null;
  readonly averageMfe: number | null;
  /** Excursions over initial risk, of trades whose stop was known. */
  readonly averageMaeR: number | null;
  readonly averageMfeR: number | null;
  /** Value of all entries and exits: units times price times point value. */
  readonly tradedValue: number;
  readonly edgeRatio: number | null;
  readonly giveBack: number | null;
  readonly pathDependentTrades: number;
  readonly pathAtStake: number;
  readonly openAtEnd: number;
  readonly openAtEndNet: number;
}

const tickMoneyOf = ({ tickSize, pointValue }: Instrument): number => tickSize * pointValue;

/**
 * One pass over closed trades in exit order. Trades marked out at the end of the data count like any other and are
 * also counted apart (R5.6). Ticks are those of each trade's own instrument. Kelly: Kelly 1956. SQN: Tharp 2006.
 */
export function tradeFigures(trades: readonly Trade[], instruments: readonly Instrument[]): TradeFigures {
  const isOne = instruments.length === 1;
  let tickMoney = tickMoneyOf(instruments[0]!);
  let { pointValue } = instruments[0]!;
  // One by one: taking lists apart goes through iterators, which are slow once frozen.
  let net = 0;
  let grossProfit = 0;
  let grossLoss = 0;
  let wins = 0;
  let losses = 0;
  let even = 0;
  let commission = 0;
  let spread = 0;
  let slippage = 0;
  let financing = 0;
  let netTicks = 0;
  let costTicks = 0;
  let barsAll = 0;
  let barsWins = 0;
  let barsLosses = 0;
  let mae = 0;
  let mfe = 0;
  let winStreak = 0;
  let lossStreak = 0;
  let longestWin = 0;
  let longestLoss = 0;
  let streakNet = 0;
  let worstStreak = 0;
  let maeR = 0;
  let mfeR = 0;
  let risked = 0;
  let traded = 0;
  let largestWin = Number.NEGATIVE_INFINITY;
  let largestLoss = Number.POSITIVE_INFINITY;
  let pathDependent = 0;
  let atStake = 0;
  let openAtEnd = 0;
  let openAtEndNet = 0;
  let known = 0;
  let rSum = 0;
  const n = trades.length;
  for (let k = 0; k < n; k++) {
    const trade = trades[k]!;
    if (!isOne) {
      const own = instruments.find(({ symbol }) => symbol === trade.symbol) ?? instruments[0]!;
      tickMoney = tickMoneyOf(own);
      ({ pointValue } = own);
    }
    traded += trade.quantity * (trade.entryPrice + trade.exitPrice) * pointValue;
    streakNet = trade.net < 0 ? streakNet + trade.net : 0;
    worstStreak = Math.min(worstStreak, streakNet);
    net += trade.net;
    netTicks += trade.net / (trade.quantity * tickMoney);
    costTicks += costsOf(trade) / (trade.quantity * tickMoney);
    commission += trade.commission;
    spread += trade.spread;
    slippage += trade.slippage;
    financing += trade.financing;
    barsAll += trade.barsHeld;
    mae += trade.mae;
    mfe += trade.mfe;
    if (trade.net > 0) {
      wins++;
      grossProfit += trade.net;
      barsWins += trade.barsHeld;
      lossStreak = 0;
      longestWin = Math.max(longestWin, ++winStreak);
      largestWin = Math.max(largestWin, trade.net);
    } else if (trade.net < 0) {
      losses++;
      grossLoss += trade.net;
      barsLosses += trade.barsHeld;
      winStreak = 0;
      longestLoss = Math.max(longestLoss, ++lossStreak);
      largestLoss = Math.min(largestLoss, trade.net);
    } else {
      even++;
      winStreak = 0;
      lossStreak = 0;
    }
    if (trade.r !== null) {
      known++;
      rSum += trade.r;
    }
    if (trade.risk !== null && trade.risk > 0) {
      risked++;
      maeR += trade.mae / trade.risk;
      mfeR += trade.mfe / trade.risk;
    }
    if (trade.pathDependent) {
      pathDependent++;
      atStake += trade.atStake;
    }
    if (trade.reason === "end of data") {
      openAtEnd++;
      openAtEndNet += trade.net;
    }
  }
  const costs = commission + spread + slippage + financing;
  const average = (sum: number, count: number): number | null => (count === 0 ? null : sum / count);
  const averageWin = average(grossProfit, wins);
  const averageLoss = average(grossLoss, losses);
  const payoffRatio = ratio(averageWin, averageLoss === null ? null : Math.abs(averageLoss));
  const winRate = average(wins, n);
  const results = new Float64Array(n);
  for (let k = 0; k < n; k++) results[k] = known === n ? trades[k]!.r! : trades[k]!.net;
  const deviation = sampleDeviation(results);
  const meanResult = average(known === n ? rSum : net, n);
  const sqnRatio = deviation === null || isNoise(deviation, results) ? null : ratio(meanResult, deviation);
  return {
    netProfit: net,
    grossProfit,
    grossLoss,
    trades: n,
    wins,
    losses,
    even,
    winRate,
    averageTrade: average(net, n),
    averageTradeTicks: average(netTicks, n),
    averageTradeR: average(rSum, known),
    averageWin,
    averageLoss,
    payoffRatio,
    profitFactor: ratio(grossProfit, Math.abs(grossLoss)),
    largestWin: wins > 0 ? largestWin : null,
    largestLoss: losses > 0 ? largestLoss : null,
    longestWinningStreak: longestWin,
    longestLosingStreak: longestLoss,
    worstLosingStreak: worstStreak,
    averageBarsHeld: average(barsAll, n),
    averageBarsWins: average(barsWins, wins),
    averageBarsLosses: average(barsLosses, losses),
    commission,
    spread,
    slippage,
    financing,
    costs,
    costShare: n === 0 ? null : ratio(costs, net + costs),
    costPerTradeTicks: average(costTicks, n),
    sqn: sqnRatio === null ? null : Math.sqrt(Math.min(n, 100)) * sqnRatio,
    kelly: winRate === null || payoffRatio === null || payoffRatio === 0 ? null : winRate - (1 - winRate) / payoffRatio,
    averageMae: average(mae, n),
    averageMfe: average(mfe, n),
    averageMaeR: average(maeR, risked),
    averageMfeR: average(mfeR, risked),
    tradedValue: traded,
    edgeRatio: ratio(average(mfe, n), average(mae, n)),
    giveBack: average(mfe - net, n),
    pathDependentTrades: pathDependent,
    pathAtStake: atStake,
    openAtEnd,
    openAtEndNet,
  };
}
