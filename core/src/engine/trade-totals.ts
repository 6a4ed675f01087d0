/** Mean and spread of some numbers as they come, by Welford's updates, and the largest of them. */
export class RunningSpread {
  count = 0;
  mean = 0;
  largest = 0;
  #squares = 0;

  add(value: number): void {
    this.count++;
    const away = value - this.mean;
    this.mean += away / this.count;
    this.#squares += away * (value - this.mean);
    const size = Math.abs(value);
    if (size > this.largest) this.largest = size;
  }

  /** Sample standard deviation; null for fewer than two numbers. */
  get deviation(): number | null {
    return this.count < 2 ? null : Math.sqrt(this.#squares / (this.count - 1));
  }
}

/** The sums of closed trades that a sweep asks for, kept as they close where nobody looks at a single one. */
export class TradeTotals {
  trades = 0;
  net = 0;
  wins = 0;
  losses = 0;
  grossProfit = 0;
  grossLoss = 0;
  commission = 0;
  spread = 0;
  slippage = 0;
  financing = 0;
  pathDependent = 0;
  ticks = 0;
  longestLosingStreak = 0;
  readonly nets = new RunningSpread();
  readonly rs = new RunningSpread();
  #losing = 0;

  /**
   * A trade has closed; money is account currency, `net` after all costs.
   * @param tickMoney value of a tick of the traded quantity
   * @param risk money lost at the first stop level; 0 where none was known
   */
  add(
    net: number,
    commission: number,
    spread: number,
    slippage: number,
    financing: number,
    isDependent: boolean,
    tickMoney: number,
    risk: number,
  ): void {
    this.trades++;
    this.net += net;
    this.nets.add(net);
    this.ticks += net / tickMoney;
    if (risk > 0) this.rs.add(net / risk);
    if (net > 0) {
      this.wins++;
      this.grossProfit += net;
    } else this.grossLoss += net;
    if (net < 0) {
      this.losses++;
      this.#losing++;
      if (this.#losing > this.longestLosingStreak) this.longestLosingStreak = this.#losing;
    } else this.#losing = 0;
    this.commission += commission;
    this.spread += spread;
    this.slippage += slippage;
    this.financing += financing;
    if (isDependent) this.pathDependent++;
  }
}
