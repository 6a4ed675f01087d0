/** The sums of closed trades that a sweep asks for, kept as they close where nobody looks at a single one. */
export class TradeTally {
  trades = 0;
  net = 0;
  wins = 0;
  grossProfit = 0;
  grossLoss = 0;
  commission = 0;
  spread = 0;
  slippage = 0;
  financing = 0;
  pathDependent = 0;

  /** A trade has closed; money is account currency, `net` after all costs. */
  add(net: number, commission: number, spread: number, slippage: number, financing: number, isDependent: boolean): void {
    this.trades++;
    this.net += net;
    if (net > 0) {
      this.wins++;
      this.grossProfit += net;
    } else this.grossLoss += net;
    this.commission += commission;
    this.spread += spread;
    this.slippage += slippage;
    this.financing += financing;
    if (isDependent) this.pathDependent++;
  }
}
