// A stop entry one tick beyond the channel of the last bars, both ways.
//
// The orders are sent anew at each close, so they always stand at the current channel. In a calm stretch BRIN fakes
// many breaks; the long trends pay for them, if at all.
export default plan({
  title: "Brine channel",
  inputs: {
    span: whole(40, { min: 5, max: 300, step: 5, unit: "bars", label: "Channel span" }),
    exitSpan: whole(20, { min: 3, max: 200, step: 5, unit: "bars", label: "Exit channel" }),
    stop: decimal(2.5, { min: 0.5, max: 10, step: 0.25, unit: "ATR", label: "Stop" }),
  },
  build({ bars, inputs, on, enter, position, orders, show }) {
    const top = highest(bars.high, inputs.span);
    const bottom = lowest(bars.low, inputs.span);
    const exitTop = highest(bars.high, inputs.exitSpan);
    const exitBottom = lowest(bars.low, inputs.exitSpan);
    const range = atr(bars, 20);
    show(top, { label: "Channel top" });
    show(bottom, { label: "Channel bottom" });
    show(range, { label: "ATR", pane: "own" });

    const tick = bars.instrument.tickSize;
    on.barClose(() => {
      if (position.long) return void position.tightenStop(exitBottom.now - tick);
      if (position.short) return void position.tightenStop(exitTop.now + tick);
      orders.cancelAll();
      const reach = inputs.stop * range.now;
      const [up, down] = [top.now + tick, bottom.now - tick];
      enter.long.stop(up, { stopLoss: price(up - reach), group: "channel", tag: "break up" });
      enter.short.stop(down, { stopLoss: price(down + reach), group: "channel", tag: "break down" });
    });
  },
});
