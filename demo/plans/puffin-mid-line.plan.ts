// An oscillator crosses its middle; the size is what half a percent of equity can lose at the stop.
//
// The stop stands at the lowest low of the last bars, so its distance differs from trade to trade, and the size with it.
// The log has a line whenever a size was rounded or not sent.
export default plan({
  title: "Puffin mid-line",
  inputs: {
    span: whole(20, { min: 3, max: 100, unit: "bars", label: "RSI span" }),
    middle: decimal(50, { min: 30, max: 70, label: "Middle" }),
    stopSpan: whole(12, { min: 2, max: 100, unit: "bars", label: "Stop under the low of" }),
    risk: decimal(0.5, { min: 0.05, max: 5, step: 0.05, unit: "% of equity", label: "Risk a trade" }),
    sides: choice("both", ["both", "long", "short"], { label: "Sides" }),
  },
  build({ bars, inputs, when, enter, exit, position, show }) {
    const strength = rsi(bars.close, inputs.span);
    const low = lowest(bars.low, inputs.stopSpan);
    const high = highest(bars.high, inputs.stopSpan);
    show(strength, { label: "RSI", pane: "own" });

    when(crossesAbove(strength, inputs.middle), () => {
      exit.short({ tag: "crossed back" });
      if (inputs.sides !== "short" && !position.long)
        enter.long({ size: riskPercent(inputs.risk), stopLoss: price(low.now), reverse: true, tag: "up" });
    });
    when(crossesBelow(strength, inputs.middle), () => {
      exit.long({ tag: "crossed back" });
      if (inputs.sides !== "long" && !position.short)
        enter.short({ size: riskPercent(inputs.risk), stopLoss: price(high.now), reverse: true, tag: "down" });
    });
  },
});
