// Kelp swing said as rules: an oscillator turns up from its low on a rising bar. The short threshold is the long
// one turned about 50.
export default plan({
  title: "Kelp swing, a sheet",
  inputs: {
    swingSpan: whole(14, { min: 1, unit: "bars", label: "Stochastic span", group: "Swing" }),
    swingSlowing: whole(3, { min: 1, unit: "bars", label: "Stochastic slowing", group: "Swing" }),
    swingSmoothing: whole(3, { min: 1, unit: "bars", label: "Stochastic smoothing", group: "Swing" }),
    swingLevel: decimal(25, { label: "Level", group: "Swing" }),
    stopLoss: decimal(1, { min: 0, unit: "percent", label: "Stop loss", group: "Exits" }),
    target: decimal(1.6, { min: 0, unit: "percent", label: "Target", group: "Exits" }),
    trail: decimal(1.2, { min: 0, unit: "percent", label: "Trail", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, position, orders }) {
    // Size and exits of every entry
    const exits = {
      stopLoss: percent(inputs.stopLoss),
      target: percent(inputs.target),
      trail: { distance: percent(inputs.trail) },
    };

    // Long entry
    // swing: the stochastic k (14, 3, 3) crosses above 25
    const swing = crossesAbove(stochastic(bars, inputs.swingSpan, inputs.swingSlowing, inputs.swingSmoothing).k, inputs.swingLevel);
    // colour: the bar is up
    const colour = isAbove(bars.close, bars.open);
    const longEntry = swing.and(colour);
    when(longEntry, () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.long({ ...exits, tag: "long" });
    });

    // Short entry
    // swing: the stochastic k (14, 3, 3) crosses below 75
    const swingShort = crossesBelow(stochastic(bars, inputs.swingSpan, inputs.swingSlowing, inputs.swingSmoothing).k, 100 - inputs.swingLevel);
    // colour: the bar is down
    const colourShort = isBelow(bars.close, bars.open);
    const shortEntry = swingShort.and(colourShort);
    when(shortEntry, () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.short({ ...exits, tag: "short" });
    });
  },
});
//! sheet {"version":1,"title":"Kelp swing, a sheet","description":"Kelp swing said as rules: an oscillator turns up from its low on a rising bar. The short threshold is the long one turned about 50.","shortMirrorsLong":true,"entersOn":"beginning","longEntry":{"kind":"group","id":"longEntry","name":"","comment":"","isOff":false,"of":"all","rules":[{"kind":"row","id":"r1","name":"swing","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"study","study":"stochastic","output":"k","numbers":[14,3,3],"sources":[],"on":{"timeframe":"","instrument":""},"ago":null},"relation":"crosses above","right":{"kind":"number","value":25}},"heldFor":null,"within":null},{"kind":"row","id":"r2","name":"colour","comment":"","isOff":false,"test":{"kind":"bar","way":"up","against":"open","on":{"timeframe":"","instrument":""}},"heldFor":null,"within":null}]},"shortEntry":{"kind":"group","id":"shortEntry","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longExit":{"kind":"group","id":"longExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"shortExit":{"kind":"group","id":"shortExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"filters":{"kind":"group","id":"filters","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longWindow":null,"shortWindow":null,"order":{"kind":"market"},"longExits":{"stopLoss":{"unit":"percent","value":1},"target":{"unit":"percent","value":1.6},"trail":{"distance":{"unit":"percent","value":1.2},"after":null,"step":null},"breakEven":null,"locks":[],"timeLimit":null,"flat":null},"shortExits":null,"size":null,"guards":{"whileOpen":"wait","entriesPerSession":null,"coolDownBars":null},"acts":"orders"}
