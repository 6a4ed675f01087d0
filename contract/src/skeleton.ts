/** What a new plan begins with: it runs as it is, so that the first thing to do is to change it, and takes every name that a snippet needs. */
export const SKELETON = `export default plan({
  title: "New plan",
  inputs: {
    fast: whole(20, { min: 2, max: 200, unit: "bars", label: "Fast average" }),
    slow: whole(60, { min: 5, max: 400, unit: "bars", label: "Slow average" }),
    stop: whole(40, { min: 4, max: 400, unit: "ticks", label: "Stop" }),
  },
  build({ bars, inputs, when, during, mirrored, on, enter, exit, position,
          orders, account, clock, log, note, figure, show }) {
    // Declare studies and conditions here, once.
    const fast = ema(bars.close, inputs.fast);
    const slow = ema(bars.close, inputs.slow);
    show(fast, { label: "Fast" });
    show(slow, { label: "Slow" });

    // Then say what happens when.
    when(crossesAbove(fast, slow), () => {
      if (position.flat) enter.long({ stopLoss: ticks(inputs.stop), tag: "up" });
    });
    when(crossesBelow(fast, slow), () => {
      if (position.long) position.close("down");
    });
  },
});
`;
