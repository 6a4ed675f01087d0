// Brine base entry said as rules: always in the market after the first break, to try exit kits on.
export default plan({
  title: "Brine base entry, a sheet",
  inputs: {
    breakAgo: whole(1, { min: 0, unit: "bars", label: "Ago", group: "Break" }),
    breakSpan: whole(55, { min: 1, unit: "bars", label: "Donchian channel span", group: "Break" }),
  },
  build({ bars, inputs, when, enter, position }) {
    // Long entry
    // break: close crosses above the Donchian channel upper (55) 1 bar ago
    const break2 = crossesAbove(bars.close, donchian(bars, inputs.breakSpan).upper.earlier(inputs.breakAgo));
    when(break2, () => {
      if (position.long) return;
      enter.long({ reverse: true, tag: "long" });
    });

    // Short entry
    // break: close crosses below the Donchian channel lower (55) 1 bar ago
    const breakShort = crossesBelow(bars.close, donchian(bars, inputs.breakSpan).lower.earlier(inputs.breakAgo));
    when(breakShort, () => {
      if (position.short) return;
      enter.short({ reverse: true, tag: "short" });
    });
  },
});
//! sheet {"version":1,"title":"Brine base entry, a sheet","description":"Brine base entry said as rules: always in the market after the first break, to try exit kits on.","shortMirrorsLong":true,"entersOn":"beginning","longEntry":{"kind":"group","id":"longEntry","name":"","comment":"","isOff":false,"of":"all","rules":[{"kind":"row","id":"r1","name":"break","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null},"relation":"crosses above","right":{"kind":"study","study":"donchian","output":"upper","numbers":[55],"sources":[],"on":{"timeframe":"","instrument":""},"ago":1}},"heldFor":null,"within":null}]},"shortEntry":{"kind":"group","id":"shortEntry","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longExit":{"kind":"group","id":"longExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"shortExit":{"kind":"group","id":"shortExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"filters":{"kind":"group","id":"filters","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longWindow":null,"shortWindow":null,"order":{"kind":"market"},"longExits":{"stopLoss":null,"target":null,"trail":null,"breakEven":null,"locks":[],"timeLimit":null,"flat":null},"shortExits":null,"size":null,"guards":{"whileOpen":"reverse","entriesPerSession":null,"coolDownBars":null},"acts":"orders"}
