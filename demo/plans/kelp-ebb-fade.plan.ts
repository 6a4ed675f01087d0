// Fades a stretch beyond the bands, back towards the middle.
//
// About half of every move of KELP comes back within days, so the band spans three sessions and the stop is wide: with tight stops
// the pull is lost to noise and costs. Look at average trade in ticks against cost before anything else.
export default plan({
  title: "Kelp ebb fade",
  inputs: {
    span: whole(160, { min: 10, max: 300, step: 5, unit: "bars", label: "Band span", group: "Bands" }),
    width: decimal(2, { min: 0.5, max: 5, step: 0.1, unit: "sd", label: "Band width", group: "Bands" }),
    stop: whole(80, { min: 4, max: 400, step: 4, unit: "ticks", label: "Stop", group: "Exits" }),
    firstEntry: time("08:15", { label: "First entry", group: "Hours" }),
    lastEntry: time("18:30", { label: "Last entry", group: "Hours" }),
    risk: decimal(2, { min: 0.05, max: 5, step: 0.05, unit: "% of equity", label: "Risk a trade" }),
  },
  build({ bars, inputs, when, on, enter, position, clock, show }) {
    const band = bollinger(bars.close, inputs.span, inputs.width);
    show(band.upper, { label: "Upper band" });
    show(band.middle, { label: "Middle" });
    show(band.lower, { label: "Lower band" });

    const below = crossesBelow(bars.close, band.lower);
    const above = crossesAbove(bars.close, band.upper);
    const mayEnter = () => position.flat && clock.between(inputs.firstEntry, inputs.lastEntry);

    when(below, () => {
      if (mayEnter()) enter.long({ size: riskPercent(inputs.risk), stopLoss: ticks(inputs.stop), tag: "ebb" });
    });
    when(above, () => {
      if (mayEnter()) enter.short({ size: riskPercent(inputs.risk), stopLoss: ticks(inputs.stop), tag: "flood" });
    });

    // The target is wherever the middle stands now.
    on.barClose(() => {
      if (!position.flat) position.setTarget(band.middle.now);
    });
  },
});
