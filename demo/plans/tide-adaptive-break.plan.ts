// A channel whose look-back adapts: longer when volatility rises, shorter when it falls, between a floor and a ceiling.
//
// The length moves with the rate of change of the standard deviation of closes. The plan acts once a session, some
// minutes after the open, on completed sessions; a working stop is raised on each new high and drawn on the chart.
export default plan({
  title: "Tide adaptive break",
  inputs: {
    base: whole(20, { min: 5, max: 100, unit: "days", label: "Usual look-back" }),
    floor: whole(8, { min: 2, max: 100, unit: "days", label: "Least look-back" }),
    ceiling: whole(45, { min: 5, max: 200, unit: "days", label: "Most look-back" }),
    minutes: whole(15, { min: 0, max: 300, unit: "minutes", label: "Act after the open" }),
    stop: decimal(2.5, { min: 0.5, max: 10, step: 0.25, unit: "ATR", label: "Stop" }),
    contracts: whole(1, { min: 1, max: 20, unit: "contracts", label: "Size" }),
  },
  build({ bars, inputs, on, enter, position, orders, show, log }) {
    const day = bars.at("1d");
    const wildness = rateOfChange(standardDeviation(day.close, inputs.base), 1);
    const length = wildness.over(100).plus(1).times(inputs.base);
    const top = highestOver(day.high, length, inputs.floor, inputs.ceiling);
    const range = atr(day, 14);
    show(top, { label: "Adaptive high" });

    // The stop as it stands, for the chart: the highest high since the last break less the distance.
    const away = range.times(inputs.stop);
    const broken = crossesAbove(day.close, top.earlier(1));
    const rail = highestSince(broken, day.high).minus(away);
    show(rail, { label: "Working stop" });

    on.afterOpen(inputs.minutes, () => {
      if (position.long) {
        if (position.tightenStop(rail.now)) log(`stop raised to ${position.stop}`);
        return;
      }
      orders.cancelAll();
      enter.long.stop(top.now, {
        size: units(inputs.contracts),
        stopLoss: multiple(range, inputs.stop),
        goodFor: "session",
        tag: "break",
      });
    });
  },
});
