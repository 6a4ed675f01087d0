// A cross of two averages with a momentum filter, entries in a window, and a turn on the opposite cross.
//
// The window and the filter hold for entries alone: exits never ask them. Each side has a stop of its own. Once a trade
// has made its first step the stop locks a part of it in.
export default plan({
  title: "Tide turn",
  inputs: {
    fast: whole(12, { min: 2, max: 100, unit: "bars", label: "Fast average", group: "Averages" }),
    slow: whole(48, { min: 5, max: 400, unit: "bars", label: "Slow average", group: "Averages" }),
    pace: decimal(0.1, { min: 0, max: 5, step: 0.05, unit: "%", label: "Least momentum", group: "Filter" }),
    from: time("08:30", { label: "Entries from", group: "Filter" }),
    until: time("15:00", { label: "Entries until", group: "Filter" }),
    longStop: whole(80, { min: 5, max: 800, step: 5, unit: "ticks", label: "Long stop", group: "Exits" }),
    shortStop: whole(60, { min: 5, max: 800, step: 5, unit: "ticks", label: "Short stop", group: "Exits" }),
    lockAfter: whole(60, { min: 5, max: 800, step: 5, unit: "ticks", label: "Lock in after", group: "Exits" }),
    lockIn: whole(15, { min: 0, max: 400, step: 5, unit: "ticks", label: "Lock in", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, exit, position, clock, show }) {
    const fast = ema(bars.close, inputs.fast);
    const slow = ema(bars.close, inputs.slow);
    const pace = rateOfChange(bars.close, inputs.slow);
    show(fast, { label: "Fast" });
    show(slow, { label: "Slow" });
    show(pace, { label: "Momentum", pane: "own" });

    const locks = [{ after: ticks(inputs.lockAfter), keep: ticks(inputs.lockIn) }];
    const isOpen = () => clock.between(inputs.from, inputs.until);

    when(crossesAbove(fast, slow), () => {
      if (isOpen() && pace.now >= inputs.pace && !position.long)
        enter.long({ stopLoss: ticks(inputs.longStop), locks, reverse: true, tag: "up" });
      else if (position.short) exit.short({ tag: "opposite cross" });
    });
    when(crossesBelow(fast, slow), () => {
      if (isOpen() && pace.now <= -inputs.pace && !position.short)
        enter.short({ stopLoss: ticks(inputs.shortStop), locks, reverse: true, tag: "down" });
      else if (position.long) exit.long({ tag: "opposite cross" });
    });
  },
});
