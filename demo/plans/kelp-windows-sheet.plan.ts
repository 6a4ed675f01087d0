// Kelp windows said as rules: channel breaks in a window of bars since the open, with a time limit for each
// side.
export default plan({
  title: "Kelp windows, a sheet",
  inputs: {
    breakAgo: whole(1, { min: 0, unit: "bars", label: "Ago", group: "Break" }),
    breakSpan: whole(16, { min: 1, unit: "bars", label: "Donchian channel span", group: "Break" }),
    longStopLoss: decimal(1.5, { min: 0, unit: "x atr(14)", label: "Stop loss", group: "Exits, long" }),
    longTimeLimit: whole(20, { min: 1, unit: "bars", label: "Time limit", group: "Exits, long" }),
    shortStopLoss: decimal(1.5, { min: 0, unit: "x atr(14)", label: "Stop loss", group: "Exits, short" }),
    shortTimeLimit: whole(12, { min: 1, unit: "bars", label: "Time limit", group: "Exits, short" }),
    longFromBar: whole(3, { min: 0, unit: "bars", label: "From bar of the session", group: "Entry window, long" }),
    longToBar: whole(24, { min: 0, unit: "bars", label: "To bar of the session", group: "Entry window, long" }),
    shortFromBar: whole(3, { min: 0, unit: "bars", label: "From bar of the session", group: "Entry window, short" }),
    shortToBar: whole(24, { min: 0, unit: "bars", label: "To bar of the session", group: "Entry window, short" }),
  },
  build({ bars, inputs, when, enter, position, orders }) {
    const atrDistance = readColumn("atr(14)", bars);
    const longBar = barsSinceOpen(bars);
    const shortBar = barsSinceOpen(bars);

    // Size and exits of a long entry
    const longExits = {
      stopLoss: multiple(atrDistance, inputs.longStopLoss),
      timeLimit: { bars: inputs.longTimeLimit },
    };

    // Size and exits of a short entry
    const shortExits = {
      stopLoss: multiple(atrDistance, inputs.shortStopLoss),
      timeLimit: { bars: inputs.shortTimeLimit },
    };

    // Long entry
    // break: close crosses above the Donchian channel upper (16) 1 bar ago
    const break2 = crossesAbove(bars.close, donchian(bars, inputs.breakSpan).upper.earlier(inputs.breakAgo));
    when(break2, () => {
      if (!position.flat || orders.working.length > 0) return;
      if (longBar.now < inputs.longFromBar || longBar.now > inputs.longToBar) return;
      enter.long({ ...longExits, tag: "long" });
    });

    // Short entry
    // break: close crosses below the Donchian channel lower (16) 1 bar ago
    const breakShort = crossesBelow(bars.close, donchian(bars, inputs.breakSpan).lower.earlier(inputs.breakAgo));
    when(breakShort, () => {
      if (!position.flat || orders.working.length > 0) return;
      if (shortBar.now < inputs.shortFromBar || shortBar.now > inputs.shortToBar) return;
      enter.short({ ...shortExits, tag: "short" });
    });
  },
});
//! sheet {"version":1,"title":"Kelp windows, a sheet","description":"Kelp windows said as rules: channel breaks in a window of bars since the open, with a time limit for each side.","shortMirrorsLong":true,"entersOn":"beginning","longEntry":{"kind":"group","id":"longEntry","name":"","comment":"","isOff":false,"of":"all","rules":[{"kind":"row","id":"r1","name":"break","comment":"","isOff":false,"test":{"kind":"compare","left":{"kind":"price","price":"close","on":{"timeframe":"","instrument":""},"ago":null},"relation":"crosses above","right":{"kind":"study","study":"donchian","output":"upper","numbers":[16],"sources":[],"on":{"timeframe":"","instrument":""},"ago":1}},"heldFor":null,"within":null}]},"shortEntry":{"kind":"group","id":"shortEntry","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longExit":{"kind":"group","id":"longExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"shortExit":{"kind":"group","id":"shortExit","name":"","comment":"","isOff":false,"of":"all","rules":[]},"filters":{"kind":"group","id":"filters","name":"","comment":"","isOff":false,"of":"all","rules":[]},"longWindow":{"by":"bars","from":3,"to":24},"shortWindow":{"by":"bars","from":3,"to":24},"order":{"kind":"market"},"longExits":{"stopLoss":{"unit":"points","value":1.5,"study":"atr(14)"},"target":null,"trail":null,"breakEven":null,"locks":[],"timeLimit":{"bars":20},"flat":null},"shortExits":{"stopLoss":{"unit":"points","value":1.5,"study":"atr(14)"},"target":null,"trail":null,"breakEven":null,"locks":[],"timeLimit":{"bars":12},"flat":null},"size":null,"guards":{"whileOpen":"wait","entriesPerSession":null,"coolDownBars":null},"acts":"orders"}
