// In the market for as long as a state holds, with exits that are set when the fill is known.
//
// The entry is a state, so a guard has to keep it from repeating. Stop and target are set in `opened`, from the fill's
// own price and the range of that moment; the close is dynamic: when the state no longer holds.
export default plan({
  title: "Auk state",
  inputs: {
    trend: whole(40, { min: 5, max: 400, unit: "bars", label: "Trend average" }),
    fit: decimal(0.35, { min: 0, max: 0.99, step: 0.05, label: "Least fit", help: "How well a straight line fits, r squared." }),
    stop: decimal(2, { min: 0.5, max: 10, step: 0.25, unit: "ATR", label: "Stop", group: "Exits" }),
    target: decimal(5, { min: 0.5, max: 20, step: 0.25, unit: "ATR", label: "Target", group: "Exits" }),
    share: decimal(60, { min: 1, max: 100, unit: "% of equity", label: "Position" }),
  },
  build({ bars, inputs, during, on, enter, position, show }) {
    const line = regression(bars.close, inputs.trend);
    const range = atr(bars, 14);
    show(line.value, { label: "Regression" });
    show(line.fit, { label: "Fit", pane: "own" });

    const isTrend = isAbove(line.slope, 0).and(isAbove(line.fit, inputs.fit)).and(isAbove(bars.close, line.value));

    during(isTrend, () => {
      if (position.flat) enter.long({ size: equityPercent(inputs.share), tag: "trend" });
    });
    on.opened((lot) => {
      position.setStop(lot.entryPrice - inputs.stop * range.now);
      position.setTarget(lot.entryPrice + inputs.target * range.now);
    });
    during(isTrend.not(), () => {
      if (position.long) position.close("trend over");
    });
  },
});
