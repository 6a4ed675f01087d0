// Rules as text inputs: a condition and a timeframe each, joined by "and", at market or by limit.
//
// Good for trying an idea before writing it. What can't be read is refused before the run, with the character. An empty
// rule holds always.
export default plan({
  title: "Worded rules",
  inputs: {
    longRule: text("close > ema(close, 50) and close crosses above sma(close, 10)", { label: "Long when", group: "Long" }),
    longTrend: text("close > sma(close, 20)", { label: "and when", group: "Long" }),
    shortRule: text("close < ema(close, 50) and close crosses below sma(close, 10)", { label: "Short when", group: "Short" }),
    shortTrend: text("close < sma(close, 20)", { label: "and when", group: "Short" }),
    trendFrame: timeframe("1h", { label: "Read the trend on" }),
    order: choice("market", ["market", "limit"], { label: "Order" }),
    offset: whole(4, { min: 0, max: 200, unit: "ticks", label: "Limit away by" }),
    stop: whole(40, { min: 0, max: 800, unit: "ticks", label: "Stop", help: "0 means none." }),
    target: whole(80, { min: 0, max: 1600, unit: "ticks", label: "Target", help: "0 means none." }),
  },
  build({ bars, inputs, on, enter, position, orders }) {
    const slow = bars.at(inputs.trendFrame);
    const holds = (text: string, on: Bars) => (text.trim() === "" ? isAtOrAbove(on.volume, 0) : readCondition(text, on));
    const [longRule, longTrend] = [holds(inputs.longRule, bars), holds(inputs.longTrend, slow)];
    const [shortRule, shortTrend] = [holds(inputs.shortRule, bars), holds(inputs.shortTrend, slow)];
    const away = inputs.offset * bars.instrument.tickSize;
    const exits = { stopLoss: ticks(inputs.stop), target: ticks(inputs.target), goodFor: 4 };

    on.barClose(() => {
      if (!position.flat || orders.working.length > 0) return;
      const byLimit = inputs.order === "limit";
      if (longRule.now && longTrend.now) {
        if (byLimit) enter.long.limit(bars.close.now - away, { ...exits, tag: "long rule" });
        else enter.long({ ...exits, tag: "long rule" });
      } else if (shortRule.now && shortTrend.now) {
        if (byLimit) enter.short.limit(bars.close.now + away, { ...exits, tag: "short rule" });
        else enter.short({ ...exits, tag: "short rule" });
      }
    });
  },
});
