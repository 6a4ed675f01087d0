// Buys an oversold dip in a rising share; the size follows from the risk.
//
// PUFN drifts up by 7 % a year with little noise, so holding it is hard to beat. Compare with buy and hold first: a dip
// buyer is in the market for a part of the time only.
export default plan({
  title: "Puffin dip",
  inputs: {
    span: whole(14, { min: 2, max: 60, unit: "bars", label: "RSI span", group: "Oscillator" }),
    oversold: decimal(30, { min: 5, max: 50, label: "Oversold below", group: "Oscillator" }),
    recovered: decimal(55, { min: 30, max: 90, label: "Recovered above", group: "Oscillator" }),
    trend: whole(200, { min: 20, max: 600, unit: "bars", label: "Trend average" }),
    stop: decimal(2.5, { min: 0.2, max: 15, step: 0.1, unit: "%", label: "Stop" }),
    risk: decimal(1, { min: 0.1, max: 5, step: 0.1, unit: "% of equity", label: "Risk a trade" }),
  },
  build({ bars, inputs, when, enter, position, show }) {
    const strength = rsi(bars.close, inputs.span);
    const trend = sma(bars.close, inputs.trend);
    show(strength, { label: "RSI", pane: "own" });
    show(trend, { label: "Trend" });

    const dip = crossesBelow(strength, inputs.oversold).and(isAbove(bars.close, trend));
    when(dip, () => {
      if (position.flat) enter.long({ size: riskPercent(inputs.risk), stopLoss: percent(inputs.stop), tag: "dip" });
    });
    when(crossesAbove(strength, inputs.recovered), () => {
      if (position.long) position.close("recovered");
    });
  },
});
