// A slow and a quick oscillator have to agree; orders are an option, the alert is the point.
//
// The slow one is read on completed bars of the higher timeframe only, so it never flickers. With orders off the plan
// is a watchman: it writes an alert, and a watch passes it on.
export default plan({
  title: "Puffin two clocks",
  inputs: {
    slow: timeframe("1d", { label: "Slow timeframe", group: "Oscillators" }),
    span: whole(9, { min: 2, max: 50, unit: "bars", label: "Span", group: "Oscillators" }),
    bullish: decimal(55, { min: 50, max: 90, label: "Bullish above", group: "Oscillators" }),
    bearish: decimal(45, { min: 10, max: 50, label: "Bearish below", group: "Oscillators" }),
    trade: yesNo(true, { label: "Send orders", help: "Off: alerts only." }),
    stop: decimal(2.5, { min: 0.2, max: 15, step: 0.1, unit: "%", label: "Stop" }),
    share: decimal(40, { min: 1, max: 100, unit: "% of equity", label: "Position" }),
  },
  build({ bars, inputs, when, enter, position, log, show }) {
    const quick = reading(rsi(bars.close, inputs.span), inputs.bullish, inputs.bearish);
    const slow = reading(rsi(bars.at(inputs.slow).close, inputs.span), inputs.bullish, inputs.bearish);
    show(quick, { label: "Quick reading", pane: "own" });
    show(slow, { label: "Slow reading", pane: "own" });

    const bothUp = isAbove(quick, 0).and(isAbove(slow, 0));
    const bothDown = isBelow(quick, 0).and(isBelow(slow, 0));

    when(becomes(bothUp), () => {
      log(`both readings are bullish at ${bars.close.now}`, "alert");
      if (inputs.trade && position.flat) enter.long({ size: equityPercent(inputs.share), stopLoss: percent(inputs.stop), tag: "agreed" });
    });
    when(becomes(bothDown), () => {
      log(`both readings are bearish at ${bars.close.now}`, "alert");
      if (position.long) position.close("agreed down");
    });
  },
});
