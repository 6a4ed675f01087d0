// Blends a bias by hour of day with a break: a break counts more in the hours that have gone its way lately.
//
// The bias of an hour is a running mean of its own past moves, kept by a study of the plan's own. TIDE has drifted by the
// hour until 2025: the plan should fade with it, and a run on the later years says whether it notices.
export default plan({
  title: "Tide hour blend",
  inputs: {
    memory: whole(60, { min: 5, max: 500, unit: "days", label: "Memory of the bias" }),
    span: whole(8, { min: 2, max: 100, unit: "bars", label: "Break of" }),
    weight: decimal(0.6, { min: 0, max: 1, step: 0.1, label: "Weight of the bias" }),
    needed: decimal(0.6, { min: 0, max: 2, step: 0.1, label: "Score needed" }),
    hold: whole(8, { min: 1, max: 200, unit: "bars", label: "Hold for" }),
    stop: decimal(0.6, { min: 0, max: 10, step: 0.1, unit: "%", label: "Stop" }),
  },
  build({ bars, inputs, during, enter, position, show }) {
    const bias = stepwise([minuteOfDay(bars), rateOfChange(bars.close, 1), historicalVolatility(bars.close, 50, 1)], () => {
      const means = new Map<number, number>();
      return (minute, move, usual) => {
        // What is known of the bar that comes next: the mean of its past moves, in usual moves of one bar.
        const hour = Math.floor(minute / 60);
        const before = means.get(hour) ?? 0;
        means.set(hour, before + (move - before) / (inputs.memory * 4));
        return usual > 0 ? (means.get(Math.floor((minute + 15) / 60)) ?? 0) / usual : 0;
      };
    });
    const place = placeInRange(bars.close, inputs.span).over(50).minus(1);
    const score = bias.times(10 * inputs.weight).plus(place.times(1 - inputs.weight));
    show(bias, { label: "Bias of the hour", pane: "own" });
    show(score, { label: "Score", pane: "own" });
    const exits = { stopLoss: percent(inputs.stop), timeLimit: { bars: inputs.hold } };

    during(isAbove(score, inputs.needed), () => {
      if (position.flat) enter.long({ ...exits, tag: "up" });
    });
    during(isBelow(score, -inputs.needed), () => {
      if (position.flat) enter.short({ ...exits, tag: "down" });
    });
  },
});
