// Short only, on every market of the run: in when the stop line turns down, out when it turns up.
//
// A line that follows price at a number of average ranges is exit and filter in one. The loop over `markets` makes the
// basket: each market has its own columns, orders and position on the one account.
export default plan({
  title: "Isles short line",
  inputs: {
    span: whole(12, { min: 2, max: 100, unit: "bars", label: "Range span" }),
    width: decimal(3, { min: 0.5, max: 10, step: 0.25, unit: "ATR", label: "Line distance" }),
    share: decimal(70, { min: 1, max: 100, unit: "% of equity", label: "Position each" }),
  },
  build({ inputs, markets, when, during, show }) {
    markets.forEach(({ bars, enter, exit, position }, k) => {
      const { line, direction } = stopLine(bars, inputs.span, inputs.width);
      if (k === 0) show(line, { label: "Stop line" });

      when(crossesBelow(direction, 0), () => {
        if (position.flat) enter.short({ size: equityPercent(inputs.share), stopLoss: price(line.now), tag: "turned down" });
      });
      when(crossesAbove(direction, 0), () => exit.short({ tag: "turned up" }));
      // Between the turns the line only comes closer, and the stop with it.
      during(isBelow(direction, 0), () => {
        if (position.short) position.tightenStop(line.now);
      });
    });
  },
});
