// Two averages cross, and the trade runs to a stop or a target.
//
// BRIN goes on for weeks where it has gone for weeks, but only by a small part of what it moves in a day: averages of days
// are turned about by noise. Set the slow one to a month, with a wide stop, and compare.
export default plan({
  title: "Brine cross",
  inputs: {
    fast: whole(21, { min: 2, max: 200, unit: "bars", label: "Fast average", group: "Averages" }),
    slow: whole(55, { min: 5, max: 400, unit: "bars", label: "Slow average", group: "Averages" }),
    stop: whole(50, { min: 5, max: 400, step: 5, unit: "ticks", label: "Stop", group: "Exits" }),
    target: whole(120, { min: 5, max: 800, step: 5, unit: "ticks", label: "Target", group: "Exits" }),
    contracts: whole(1, { min: 1, max: 20, unit: "contracts", label: "Size" }),
  },
  build({ bars, inputs, when, enter, position, show }) {
    const fast = ema(bars.close, inputs.fast);
    const slow = ema(bars.close, inputs.slow);
    show(fast, { label: "Fast" });
    show(slow, { label: "Slow" });

    const exits = { stopLoss: ticks(inputs.stop), target: ticks(inputs.target) };

    when(crossesAbove(fast, slow), () => {
      if (position.flat) enter.long({ size: units(inputs.contracts), tag: "up", ...exits });
    });
    when(crossesBelow(fast, slow), () => {
      if (position.flat) enter.short({ size: units(inputs.contracts), tag: "down", ...exits });
    });
  },
});
