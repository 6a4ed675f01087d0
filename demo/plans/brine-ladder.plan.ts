// Two averages cross, and the stop climbs a ladder of profit levels that comes from a module of its own.
//
// `ladder` lives in profit-ladder.module.ts and can be taken into any plan. The step is measured when the order is sent.
import { ladder } from "profit-ladder";

export default plan({
  title: "Brine ladder",
  inputs: {
    fast: whole(18, { min: 2, max: 200, unit: "bars", label: "Fast average", group: "Averages" }),
    slow: whole(60, { min: 5, max: 400, unit: "bars", label: "Slow average", group: "Averages" }),
    stop: decimal(2, { min: 0.5, max: 10, step: 0.25, unit: "ATR", label: "First stop", group: "Exits" }),
    rungs: whole(5, { min: 1, max: 12, label: "Rungs", group: "Exits" }),
    share: decimal(0.6, { min: 0, max: 0.95, step: 0.05, label: "Share kept", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, position, show }) {
    const fast = ema(bars.close, inputs.fast);
    const slow = ema(bars.close, inputs.slow);
    const range = atr(bars, 20);
    show(fast, { label: "Fast" });
    show(slow, { label: "Slow" });
    const exits = () => ({ stopLoss: multiple(range, inputs.stop), locks: ladder(range, inputs.rungs, inputs.share) });

    when(crossesAbove(fast, slow), () => {
      if (position.flat) enter.long({ ...exits(), tag: "up" });
    });
    when(crossesBelow(fast, slow), () => {
      if (position.flat) enter.short({ ...exits(), tag: "down" });
    });
  },
});
