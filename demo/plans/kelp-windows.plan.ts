// Channel breaks, but only in a window of bars since the open, and with exits by time for each side.
//
// Windows are counted in bars since the session opened, both ends included, so they hold on short days as well. A break
// up is given more time than a break down.
export default plan({
  title: "Kelp windows",
  inputs: {
    span: whole(16, { min: 3, max: 200, unit: "bars", label: "Channel span" }),
    firstBar: whole(3, { min: 1, max: 200, unit: "bars", label: "Entries from bar", group: "Window" }),
    lastBar: whole(24, { min: 1, max: 200, unit: "bars", label: "Entries until bar", group: "Window" }),
    longBars: whole(20, { min: 1, max: 400, unit: "bars", label: "Hold long for", group: "Exits" }),
    shortBars: whole(12, { min: 1, max: 400, unit: "bars", label: "Hold short for", group: "Exits" }),
    stop: decimal(1.5, { min: 0.25, max: 10, step: 0.25, unit: "ATR", label: "Stop", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, position, show }) {
    const channel = donchian(bars, inputs.span);
    const isOpen = isBetween(barsSinceOpen(bars), inputs.firstBar, inputs.lastBar, "both");
    const range = atr(bars, 14);
    show(channel.upper, { label: "Channel top" });
    show(channel.lower, { label: "Channel bottom" });

    when(crossesAbove(bars.close, channel.upper.earlier(1)).and(isOpen), () => {
      if (position.flat) enter.long({ stopLoss: multiple(range, inputs.stop), timeLimit: { bars: inputs.longBars }, tag: "up" });
    });
    when(crossesBelow(bars.close, channel.lower.earlier(1)).and(isOpen), () => {
      if (position.flat) enter.short({ stopLoss: multiple(range, inputs.stop), timeLimit: { bars: inputs.shortBars }, tag: "down" });
    });
  },
});
