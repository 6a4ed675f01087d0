// Breaks of the opening range, flat before the close.
//
// On AUKL three tenths of the first half hour's move are made once more by noon, on average: less than a trade costs, unless
// that half hour was large. Both stop entries share a group, so the first to
// fill cancels the other; what is left is squared off by the clock.
export default plan({
  title: "Auk opening break",
  inputs: {
    rangeBars: whole(2, { min: 1, max: 12, unit: "bars", label: "Opening range", help: "On 15-minute bars, 2 is the first half hour." }),
    offset: whole(2, { min: 0, max: 50, unit: "ticks", label: "Beyond the range" }),
    lastEntry: time("11:30", { label: "Entries until" }),
    squareOff: time("16:00", { label: "Square off" }),
    share: decimal(50, { min: 1, max: 100, unit: "% of equity", label: "Position" }),
  },
  build({ bars, inputs, on, when, enter, position, orders, show }) {
    const high = sessionHigh(bars);
    const low = sessionLow(bars);
    const age = barsSinceOpen(bars);
    show(high, { label: "High so far" });
    show(low, { label: "Low so far" });

    const rangeDone = becomes(isAbove(age, inputs.rangeBars - 0.5));
    const tick = bars.instrument.tickSize;

    when(rangeDone, () => {
      if (!position.flat) return;
      const top = high.now + inputs.offset * tick;
      const bottom = low.now - inputs.offset * tick;
      const size = equityPercent(inputs.share);
      enter.long.stop(top, { size, stopLoss: price(bottom), group: "range", goodFor: "session", tag: "break up" });
      enter.short.stop(bottom, { size, stopLoss: price(top), group: "range", goodFor: "session", tag: "break down" });
    });
    on.clock(inputs.lastEntry, () => orders.cancelAll());
    on.clock(inputs.squareOff, () => {
      orders.cancelAll();
      position.close("square off");
    });
  },
});
