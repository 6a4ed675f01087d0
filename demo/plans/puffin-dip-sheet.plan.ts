// Puffin dip said as rules: an oversold dip in a rising share, with its size from the risk.
export default plan({
  title: "Puffin dip, a sheet",
  inputs: {
    dipSpan: whole(14, { min: 1, unit: "bars", label: "RSI span", group: "Dip" }),
    dipLevel: decimal(30, { label: "Level", group: "Dip" }),
    trendSpan: whole(200, { min: 1, unit: "bars", label: "SMA span", group: "Trend" }),
    recoveredSpan: whole(14, { min: 1, unit: "bars", label: "RSI span", group: "Recovered" }),
    recoveredLevel: decimal(55, { label: "Level", group: "Recovered" }),
    size: decimal(1, { min: 0, unit: "% of equity", label: "Size", group: "Size" }),
    stopLoss: decimal(2.5, { min: 0, unit: "percent", label: "Stop loss", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, position, orders, exit }) {
    // Size and exits of every entry
    const exits = {
      size: riskPercent(inputs.size),
      stopLoss: percent(inputs.stopLoss),
    };

    // Long entry
    // dip: the RSI (14) of close crosses below 30
    const dip = crossesBelow(rsi(bars.close, inputs.dipSpan), inputs.dipLevel);
    // trend: close is above the SMA (200) of close
    const trend = isAbove(bars.close, sma(bars.close, inputs.trendSpan));
    const longEntry = dip.and(trend);
    when(longEntry, () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.long({ ...exits, tag: "long" });
    });

    // Long exit
    // recovered: the RSI (14) of close crosses above 55
    const recovered = crossesAbove(rsi(bars.close, inputs.recoveredSpan), inputs.recoveredLevel);
    when(recovered, () => exit.long({ tag: "rule" }));
  },
});
//! sheet {"version":1,"title":"Puffin dip, a sheet","description":"Puffin dip said as rules: an oversold dip in a rising share, with its size from the risk.","shortMirrorsLong":false,"entersOn":"beginning","longEntry":{"kind":"group","id":"longEntry","name":"","comment":"","isOff":false,"of":"all","rules":[{"kind":"row","id":"r1","name":"dip","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"study","study":"rsi","output":"value","numbers":[14],"sources":[{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null}],"on":{"timeframe":"","instrument":""},"ago":null},"relation":"crosses below","right":{"kind":"number","value":30}},"heldFor":null,"within":null},{"kind":"row","id":"r2","name":"trend","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null},"relation":"is above","right":{"kind":"study","study":"sma","output":"value","numbers":[200],"sources":[{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null}],"on":{"timeframe":"","instrument":""},"ago":null}},"heldFor":null,"within":null}]},"shortEntry":{"kind":"group","id":"shortEntry","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longExit":{"kind":"group","id":"longExit","name":"","comment":"","isOff":false,"of":"all","rules":[{"kind":"row","id":"r3","name":"recovered","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"study","study":"rsi","output":"value","numbers":[14],"sources":[{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null}],"on":{"timeframe":"","instrument":""},"ago":null},"relation":"crosses above","right":{"kind":"number","value":55}},"heldFor":null,"within":null}]},"shortExit":{"kind":"group","id":"shortExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"filters":{"kind":"group","id":"filters","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longWindow":null,"shortWindow":null,"order":{"kind":"market"},"longExits":{"stopLoss":{"unit":"percent","value":2.5},"target":null,"trail":null,"breakEven":null,"locks":[],"timeLimit":null,"flat":null},"shortExits":null,"size":{"by":"risk percent","value":1},"guards":{"whileOpen":"wait","entriesPerSession":null,"coolDownBars":null},"acts":"orders"}
