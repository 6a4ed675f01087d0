// A break of the upper band, ridden with a stop on the middle line, which only ever comes closer.
//
// It opens with a forced test position, so that the stop can be seen at work before the first entry comes along. Take it
// out of the run's settings for a result that counts.
export default plan({
  title: "Kelp band trail",
  inputs: {
    span: whole(40, { min: 5, max: 300, unit: "bars", label: "Band span" }),
    width: decimal(1.8, { min: 0.5, max: 5, step: 0.1, unit: "ATR", label: "Band width" }),
    line: choice("middle", ["middle", "lower"], { label: "Stop on the" }),
    lots: whole(1, { min: 1, max: 20, unit: "lots", label: "Size" }),
  },
  build({ bars, inputs, when, on, enter, position, show }) {
    const band = keltner(bars, inputs.span, inputs.width);
    const line = inputs.line === "middle" ? band.middle : band.lower;
    show(band.upper, { label: "Upper band" });
    show(line, { label: "Stop line" });

    when(crossesAbove(bars.close, band.upper), () => {
      if (position.flat) enter.long({ size: units(inputs.lots), stopLoss: price(line.now), tag: "break" });
    });
    on.barClose(() => {
      // A test position comes without a stop: the line is its stop as well.
      if (position.long) position.tightenStop(line.now);
    });
  },
});
