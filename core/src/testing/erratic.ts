/** A plan that does everything there is to do, by chance: for runs that are held against one another. */
import { Random } from "../random.ts";
import { declare, words } from "./run.ts";

export interface Erratic {
  readonly seed: number;
  readonly timeframe: string;
  /** How many of the run's instruments it trades. */
  readonly instruments: number;
  readonly actsOnPrice: boolean;
  /** How often a handler does something, of 100 times. */
  readonly zeal: number;
}

/**
 * Does things by chance in every handler; the same chances for the same seed.
 * @param tellsEquity whether its log says what the account is worth
 */
export function erratic({ seed, zeal, actsOnPrice, instruments, timeframe }: Erratic, tellsEquity = true) {
  // biome-ignore lint/suspicious/noExplicitAny: a plan's context is typed by language.d.ts, which plans alone see
  return declare((context: any) => {
    const { bars, on, markets, log, when, during, clock } = context;
    const random = new Random(seed);
    const { ticks, units } = words;
    const fast = words.ema(bars.close, 4);
    const slow = words.sma(bars.at(timeframe === "1d" ? "1w" : timeframe === "1h" ? "1d" : "1h").close, 2);
    const isAbove = words.isAbove(bars.close, fast);
    const since = words.barsSince(isAbove);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random.next() * list.length)]!;
    const few = (most: number): number => 1 + Math.floor(random.next() * most);
    // biome-ignore lint/suspicious/noExplicitAny: as above
    const handles: any[] = [];
    const options = () => ({
      tag: pick(["", "a", "b"]),
      size: units(few(3)),
      ...(random.next() < 0.2 && { group: pick(["g", "h"]) }),
      ...(random.next() < 0.5 && { stopLoss: ticks(few(12)) }),
      ...(random.next() < 0.4 && { target: ticks(few(12)) }),
      ...(random.next() < 0.2 && { trail: ticks(few(8)) }),
      ...(random.next() < 0.2 && { timeLimit: pick([{ bars: few(4) }, { minutes: few(40) }]) }),
      ...(random.next() < 0.15 && { reverse: true }),
      ...(random.next() < 0.25 && { goodFor: pick(["session", { until: "10:15" }, few(4)]) }),
      ...(random.next() < 0.15 && { onlyIf: isAbove }),
    });
    const act = (where: string): void => {
      if (random.next() * 100 >= zeal) return;
      const traded = pick(markets.slice(0, instruments)) as (typeof markets)[0];
      const door = pick(["long", "short"] as const);
      const near = traded.bars.close.now + (few(24) - 12) / 4;
      const deeds: (() => unknown)[] = [
        () => handles.push(traded.enter[door](options())),
        () => handles.push(traded.enter[door]({ ...options(), at: "close" })),
        () => handles.push(traded.enter[door].stop(near, options())),
        () => handles.push(traded.enter[door].limit(near, options())),
        () => handles.push(traded.enter[door].stopLimit(near, near + 1, options())),
        () => handles.push(traded.exit[door]({ part: pick([0.5, 1]) })),
        () => handles.push(traded.exit[door].stop(near)),
        () => handles.push(traded.exit[door]({ at: "close" })),
        () => traded.position.close("out"),
        () => traded.position.setStop(near),
        () => traded.position.tightenStop(near),
        () => traded.position.setTarget(pick([near, null])),
        () => pick(handles)?.cancel(),
        () => pick(handles)?.moveTo(near),
        () => pick(handles)?.resize(few(4)),
        () => traded.orders.cancelAll(),
      ];
      log(
        `${where} ${clock.sessionDate} ${clock.minutes} ${traded.position.units} ${traded.position.profit} ${traded.position.highest} ${traded.position.barsHeld} ${tellsEquity ? context.account.equity : ""} ${traded.orders.working.length} ${since.now} ${slow.now}`,
      );
      pick(deeds)();
    };
    on.start(() => act("start"));
    on.sessionOpen(() => act("session open"));
    on.sessionClose(() => act("session close"));
    on.clock("10:07", () => act("clock"));
    on.beforeClose(20, () => act("before close"));
    on.barClose(() => act("close"));
    for (const market of markets.slice(1)) market.onBarClose(() => act("other close"));
    when(words.crossesAbove(bars.close, fast), () => act("cross"));
    during(words.isAbove(fast, slow), () => act("during"));
    for (const name of ["accepted", "filled", "opened", "changed", "closed", "cancelled", "expired", "refused"])
      on[name]((event: { id?: number; orderId?: number }) => act(`${name} ${event.id ?? event.orderId ?? ""}`));
    if (actsOnPrice) on.price(({ price }: { price: number }) => (random.next() < 0.1 ? act(`price ${price} ${fast.forming}`) : undefined));
  });
}
