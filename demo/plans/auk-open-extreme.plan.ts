// The session opened at its low (or high) and has not been back: a break away from the open, flat before the close.
//
// When the first bars leave the open on one side only, the open is the session's extreme so far. A stop entry stands an
// offset beyond the range; the stop is the open itself.
export default plan({
  title: "Auk open extreme",
  inputs: {
    after: whole(30, { min: 5, max: 240, step: 5, unit: "minutes", label: "Decide after the open" }),
    offset: whole(3, { min: 0, max: 50, unit: "ticks", label: "Beyond the range" }),
    lastEntry: time("11:30", { label: "Entries until" }),
    squareOff: time("16:10", { label: "Square off" }),
    risk: decimal(0.5, { min: 0.05, max: 5, step: 0.05, unit: "% of equity", label: "Risk a trade" }),
  },
  build({ bars, inputs, on, enter, exit, position, orders, log }) {
    const start = sessionOpen(bars);
    const top = sessionHigh(bars);
    const bottom = sessionLow(bars);
    const tick = bars.instrument.tickSize;

    on.afterOpen(inputs.after, () => {
      if (!position.flat) return;
      const common = { size: riskPercent(inputs.risk), goodFor: { until: inputs.lastEntry } };
      if (start.now === bottom.now && top.now > start.now)
        enter.long.stop(top.now + inputs.offset * tick, { ...common, stopLoss: price(bottom.now), tag: "open was the low" });
      else if (start.now === top.now && bottom.now < start.now)
        enter.short.stop(bottom.now - inputs.offset * tick, { ...common, stopLoss: price(top.now), tag: "open was the high" });
      else log("the open is inside the range: nothing to do");
    });
    on.clock(inputs.squareOff, () => {
      orders.cancelAll();
      exit.all("square off");
    });
  },
});
