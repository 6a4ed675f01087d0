// An oscillator leaves its extreme, and the bar that takes it out has the right colour.
//
// Both sides have levels of their own. Stop, target and trail are percentages of the entry, so the plan can be put on
// any instrument. A part of each move of KELP comes back; on GANN, which is noise, the same plan should make nothing.
export default plan({
  title: "Kelp swing",
  inputs: {
    span: whole(14, { min: 3, max: 60, unit: "bars", label: "Oscillator span", group: "Oscillator" }),
    low: decimal(25, { min: 1, max: 49, label: "Long from below", group: "Oscillator" }),
    high: decimal(75, { min: 51, max: 99, label: "Short from above", group: "Oscillator" }),
    stop: decimal(1, { min: 0, max: 10, step: 0.1, unit: "%", label: "Stop", group: "Exits", help: "0 means none." }),
    target: decimal(1.6, { min: 0, max: 20, step: 0.1, unit: "%", label: "Target", group: "Exits", help: "0 means none." }),
    trail: decimal(1.2, { min: 0, max: 10, step: 0.1, unit: "%", label: "Trail", group: "Exits", help: "0 means none." }),
  },
  build({ bars, inputs, when, enter, position, show }) {
    const place = stochastic(bars, inputs.span, 3, 3);
    show(place.k, { label: "Stochastic", pane: "own" });
    const isGreen = isAbove(bars.close, bars.open);
    const isRed = isBelow(bars.close, bars.open);
    const exits = { stopLoss: percent(inputs.stop), target: percent(inputs.target), trail: percent(inputs.trail) };

    when(crossesAbove(place.k, inputs.low).and(isGreen), () => {
      if (position.flat) enter.long({ ...exits, tag: "up from the low" });
    });
    when(crossesBelow(place.k, inputs.high).and(isRed), () => {
      if (position.flat) enter.short({ ...exits, tag: "down from the high" });
    });
  },
});
