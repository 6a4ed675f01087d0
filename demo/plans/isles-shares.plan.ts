// Target shares of equity over several instruments, brought back once a week, each with a protective stop in percent.
//
// Instruments in an up-trend share the equity between them; the rest is cash. `goTo` orders only what is missing, so a
// week without change costs nothing.
export default plan({
  title: "Isles shares",
  inputs: {
    trend: whole(60, { min: 5, max: 400, unit: "bars", label: "Trend average" }),
    invested: decimal(90, { min: 5, max: 100, unit: "% of equity", label: "Invested at most" }),
    band: decimal(15, { min: 0, max: 50, unit: "%", label: "Leave alone within", help: "Of the target; saves costs." }),
    stop: decimal(6, { min: 0.5, max: 50, step: 0.5, unit: "%", label: "Protective stop" }),
  },
  build({ inputs, markets, on, account, log }) {
    const watched = markets.map((market) => ({ market, isUp: isAbove(market.bars.close, sma(market.bars.close, inputs.trend)) }));

    on.weekly("monday", "10:00", () => {
      const chosen = watched.filter(({ isUp }) => isUp.now).length;
      const share = chosen > 0 ? inputs.invested / chosen : 0;
      for (const { market, isUp } of watched) {
        const { position, bars } = market;
        if (!isUp.now) {
          position.close("down-trend");
          continue;
        }
        const held = (100 * position.units * bars.close.now * bars.instrument.pointValue) / account.equity;
        if (Math.abs(held - share) < (share * inputs.band) / 100) continue;
        position.goTo(equityPercent(share), "share");
        log(`${market.symbol}: ${held.toFixed(1)} % to ${share.toFixed(1)} %`);
      }
    });
    for (const { market } of watched)
      market.onBarClose(() => {
        const { position } = market;
        if (position.long) position.tightenStop(position.highest * (1 - inputs.stop / 100));
      });
  },
});
