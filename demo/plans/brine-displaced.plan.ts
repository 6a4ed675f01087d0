// Two averages, both displaced into the past, as levels that price has to clear.
//
// A displaced average is a plain average as it stood some bars ago: the level is known before price gets there. `shift`
// on the chart draws it where it acts. One position at a time, and a text on the chart says why each one was taken.
export default plan({
  title: "Brine displaced",
  inputs: {
    span: whole(30, { min: 5, max: 300, unit: "bars", label: "Average span", group: "Averages" }),
    back: whole(8, { min: 1, max: 100, unit: "bars", label: "Displaced by", group: "Averages" }),
    stop: decimal(2, { min: 0.5, max: 10, step: 0.25, unit: "ATR", label: "Stop", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, exit, position, note, show }) {
    const top = ema(bars.high, inputs.span).earlier(inputs.back);
    const bottom = ema(bars.low, inputs.span).earlier(inputs.back);
    const range = atr(bars, 20);
    show(top, { label: "Displaced highs" });
    show(bottom, { label: "Displaced lows" });

    when(crossesAbove(bars.close, top), () => {
      if (position.short) exit.short({ tag: "cleared the highs" });
      if (!position.flat) return;
      enter.long({ stopLoss: multiple(range, inputs.stop), tag: "above" });
      note("cleared the displaced highs", bars.low.now);
    });
    when(crossesBelow(bars.close, bottom), () => {
      if (position.long) exit.long({ tag: "lost the lows" });
      if (!position.flat) return;
      enter.short({ stopLoss: multiple(range, inputs.stop), tag: "below" });
      note("lost the displaced lows", bars.high.now);
    });
  },
});
