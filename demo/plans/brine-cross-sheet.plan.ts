// The cross of two averages of Brine cross, said as rules: shorts mirror longs, and one number serves both.
export default plan({
  title: "Brine cross, a sheet",
  inputs: {
    crossSpan: whole(21, { min: 1, unit: "bars", label: "EMA span", group: "Cross" }),
    crossSpan2: whole(55, { min: 1, unit: "bars", label: "EMA span", group: "Cross" }),
    size: decimal(1, { min: 0, unit: "units", label: "Size", group: "Size" }),
    stopLoss: decimal(50, { min: 0, unit: "ticks", label: "Stop loss", group: "Exits" }),
    target: decimal(120, { min: 0, unit: "ticks", label: "Target", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, position, orders }) {
    // Size and exits of every entry
    const exits = {
      size: units(inputs.size),
      stopLoss: ticks(inputs.stopLoss),
      target: ticks(inputs.target),
    };

    // Long entry
    // cross: the EMA (21) of close crosses above the EMA (55) of close
    const cross = crossesAbove(ema(bars.close, inputs.crossSpan), ema(bars.close, inputs.crossSpan2));
    when(cross, () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.long({ ...exits, tag: "long" });
    });

    // Short entry
    // cross: the EMA (21) of close crosses below the EMA (55) of close
    const crossShort = crossesBelow(ema(bars.close, inputs.crossSpan), ema(bars.close, inputs.crossSpan2));
    when(crossShort, () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.short({ ...exits, tag: "short" });
    });
  },
});
//! sheet {"version":1,"title":"Brine cross, a sheet","description":"The cross of two averages of Brine cross, said as rules: shorts mirror longs, and one number serves both.","shortMirrorsLong":true,"entersOn":"beginning","longEntry":{"kind":"group","id":"longEntry","name":"","comment":"","isOff":false,"of":"all","rules":[{"kind":"row","id":"r1","name":"cross","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"study","study":"ema","output":"value","numbers":[21],"sources":[{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null}],"on":{"timeframe":"","instrument":""},"ago":null},"relation":"crosses above","right":{"kind":"study","study":"ema","output":"value","numbers":[55],"sources":[{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null}],"on":{"timeframe":"","instrument":""},"ago":null}},"heldFor":null,"within":null}]},"shortEntry":{"kind":"group","id":"shortEntry","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longExit":{"kind":"group","id":"longExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"shortExit":{"kind":"group","id":"shortExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"filters":{"kind":"group","id":"filters","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longWindow":null,"shortWindow":null,"order":{"kind":"market"},"longExits":{"stopLoss":{"unit":"ticks","value":50},"target":{"unit":"ticks","value":120},"trail":null,"breakEven":null,"locks":[],"timeLimit":null,"flat":null},"shortExits":null,"size":{"by":"units","value":1},"guards":{"whileOpen":"wait","entriesPerSession":null,"coolDownBars":null},"acts":"orders"}
