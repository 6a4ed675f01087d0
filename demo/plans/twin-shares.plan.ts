// Two linked positions: long the share that has fallen behind, short the other, and both turned together.
//
// AUKL and PUFN have nothing to do with each other in this world, so their spread has no reason to close: a plan that
// makes money here has been lucky. That is what it is good for.
export default plan({
  title: "Twin shares",
  inputs: {
    other: instrument("PUFN", { label: "Second share" }),
    span: whole(60, { min: 10, max: 400, unit: "bars", label: "Spread span" }),
    width: decimal(2, { min: 0.5, max: 5, step: 0.1, unit: "sd", label: "Turn at" }),
    share: decimal(30, { min: 1, max: 100, unit: "% of equity", label: "Position each" }),
  },
  build({ bars, inputs, market, when, position, account, show, log }) {
    const second = market(inputs.other);
    const ratio = bars.close.over(second.bars.close);
    const stretch = zScore(ratio, inputs.span);
    show(stretch, { label: "Stretch of the ratio", pane: "own" });
    show(correlation(bars.close, second.bars.close, inputs.span), { label: "Correlation", pane: "own" });

    const hold = (side: 1 | -1, why: string) => {
      position.goTo(equityPercent(side * inputs.share), why);
      second.position.goTo(equityPercent(-side * inputs.share), why);
    };
    when(crossesBelow(stretch, -inputs.width), () => hold(1, "behind"));
    when(crossesAbove(stretch, inputs.width), () => hold(-1, "ahead"));
    // Back in the middle both are closed; what is left open alone would be a bet of its own.
    when(crosses(stretch, 0), () => {
      if (position.flat && second.position.flat) return;
      position.close("level");
      second.position.close("level");
      log(`level again, equity ${account.equity.toFixed(2)}`);
    });
  },
});
