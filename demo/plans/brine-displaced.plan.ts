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
  build({ bars, inputs, when, mirrored, position, note, show }) {
    const range = atr(bars, 20);

    // Longs clear the highs; shorts are the same, turned over.
    mirrored((side) => {
      const level = ema(side.high(bars), inputs.span).earlier(inputs.back);
      const what = side.sign > 0 ? "highs" : "lows";
      show(level, { label: `Displaced ${what}` });
      when(side.crossesAbove(bars.close, level), () => {
        if (!position.flat && !side.isOpen) position.close(`cleared the ${what}`);
        if (!position.flat) return;
        side.enter({ stopLoss: multiple(range, inputs.stop), tag: `cleared the ${what}` });
        note(`cleared the displaced ${what}`, side.low(bars).now);
      });
    });
  },
});
