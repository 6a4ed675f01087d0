// An entry and nothing else: the exits are studied as exit kits laid over it.
//
// The plan breaks out of a channel and holds until the other side breaks. demo/kits has five stops for it: fixed, fixed
// with a filter by average range, stepped by regime, scaled by range, and scaled with a cap. Compare them on the same
// entries before believing any of them.
export default plan({
  title: "Brine base entry",
  inputs: {
    span: whole(55, { min: 5, max: 400, step: 5, unit: "bars", label: "Channel span" }),
  },
  build({ bars, inputs, when, enter, position, show }) {
    const channel = donchian(bars, inputs.span);
    show(channel.upper, { label: "Channel top" });
    show(channel.lower, { label: "Channel bottom" });

    when(crossesAbove(bars.close, channel.upper.earlier(1)), () => {
      if (!position.long) enter.long({ reverse: true, tag: "break up" });
    });
    when(crossesBelow(bars.close, channel.lower.earlier(1)), () => {
      if (!position.short) enter.short({ reverse: true, tag: "break down" });
    });
  },
});
