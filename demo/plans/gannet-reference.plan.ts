// Buys a fixed step below a reference price, sells a fixed step above it, and moves the reference to each fill.
//
// GANN has a fair price at every minute, so the steps earn what noise gives and costs take: watch the average trade against its cost.
// The log tells each move of the reference; an alert says when price has run away from it.
export default plan({
  title: "Gannet reference",
  inputs: {
    step: decimal(0.8, { min: 0.05, max: 10, step: 0.05, unit: "%", label: "Step" }),
    most: whole(4, { min: 1, max: 20, unit: "lots", label: "Most lots" }),
    away: decimal(6, { min: 1, max: 50, step: 0.5, unit: "%", label: "Give up when away by" }),
  },
  build({ bars, inputs, on, enter, exit, position, orders, log }) {
    let reference = NaN;

    const place = () => {
      orders.cancelAll();
      const step = (reference * inputs.step) / 100;
      if (position.lots.length < inputs.most) enter.long.limit(reference - step, { tag: "step down" });
      if (position.long) exit.long.limit(reference + step, { size: units(1), tag: "step up" });
    };
    on.start(() => {
      reference = bars.close.now;
      log(`reference set to ${reference}`);
      place();
    });
    on.filled((fill) => {
      if (fill.source !== "order") return;
      reference = fill.price;
      log(`reference moved to ${reference} by ${fill.tag}`);
      place();
    });
    on.sessionClose(() => {
      if (Math.abs(bars.close.now / reference - 1) * 100 < inputs.away) return;
      log(`price is ${inputs.away} % away from ${reference}: all closed, reference moved`, "alert");
      exit.all("gave up");
      reference = bars.close.now;
      place();
    });
  },
});
