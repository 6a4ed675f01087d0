// Buys beyond the last bar's high with the stop under an average, for a target of one R, over a list of instruments.
//
// The distance to the stop is whatever the structure says, so the size must follow from it. The list is a text input:
// symbols that the run does not bring are passed over, and the log says so.
export default plan({
  title: "Isles structure",
  inputs: {
    list: text("AUKL, PUFN, TIDE", { label: "Instruments", help: "Symbols of the run, with commas." }),
    average: whole(34, { min: 5, max: 300, unit: "bars", label: "Average" }),
    rewards: decimal(1, { min: 0.25, max: 10, step: 0.25, unit: "R", label: "Target" }),
    risk: decimal(0.4, { min: 0.05, max: 5, step: 0.05, unit: "% of equity", label: "Risk a trade" }),
  },
  build({ inputs, markets, log }) {
    const wanted = inputs.list.split(",").map((symbol) => symbol.trim());
    for (const market of markets) {
      const { symbol, bars, enter, position, orders } = market;
      if (!wanted.includes(symbol)) {
        log(`${symbol} is not on the list`);
        continue;
      }
      const mean = ema(bars.close, inputs.average);
      const isSetUp = isRising(mean, 3).and(isAbove(bars.low, mean)).and(isBelow(bars.close, bars.open));
      const tick = bars.instrument.tickSize;

      market.onBarClose(() => {
        orders.cancelAll();
        if (!isSetUp.now || !position.flat) return;
        enter.long.stop(bars.high.now + tick, {
          size: riskPercent(inputs.risk),
          stopLoss: price(mean.now),
          target: R(inputs.rewards),
          goodFor: 1,
          tag: "pullback",
        });
      });
    }
  },
});
