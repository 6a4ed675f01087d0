// Rides the crown by day and lifts a working stop on each new high of the trade.
//
// XSC/ORM trends between 07:00 and 16:00 UTC and drifts back at night, so the trade must be over by the evening. The
// spread is six times as wide at the 22:00 roll: nothing may be open then.
export default plan({
  title: "Crown high water",
  inputs: {
    lookBack: whole(8, { min: 2, max: 60, unit: "bars", label: "Break of" }),
    distance: whole(18, { min: 3, max: 200, unit: "ticks", label: "Stop distance" }),
    from: time("07:30", { label: "Entries from" }),
    until: time("12:00", { label: "Entries until" }),
    out: time("16:00", { label: "Out at" }),
    lots: decimal(1, { min: 0.1, max: 20, step: 0.1, unit: "lots", label: "Size" }),
  },
  build({ bars, inputs, when, on, enter, position, clock, log }) {
    const upBreak = crossesAbove(bars.close, highest(bars.high, inputs.lookBack).earlier(1));
    const downBreak = crossesBelow(bars.close, lowest(bars.low, inputs.lookBack).earlier(1));
    const reach = inputs.distance * bars.instrument.tickSize;
    let best = NaN;

    const mayEnter = () => position.flat && clock.between(inputs.from, inputs.until);
    when(upBreak, () => {
      if (mayEnter()) enter.long({ size: units(inputs.lots), stopLoss: ticks(inputs.distance), tag: "up" });
    });
    when(downBreak, () => {
      if (mayEnter()) enter.short({ size: units(inputs.lots), stopLoss: ticks(inputs.distance), tag: "down" });
    });

    on.opened((lot) => {
      best = lot.entryPrice;
    });
    on.barClose(() => {
      if (position.flat) return;
      const better = position.long ? bars.high.now > best : bars.low.now < best;
      if (!better) return;
      best = position.long ? bars.high.now : bars.low.now;
      if (position.tightenStop(position.long ? best - reach : best + reach)) log(`stop now at ${position.stop}`);
    });
    on.clock(inputs.out, () => position.close("out by clock"));
  },
});
