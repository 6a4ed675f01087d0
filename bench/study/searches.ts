/** Families of plans that are tuned, each with the lattice of its settings. */
import type { InputValues } from "@plan-tester/core";

export interface Search {
  readonly name: string;
  readonly what: string;
  readonly source: string;
  readonly variants: readonly InputValues[];
}

const CROSSING = `export default plan({
  title: "Tuned crossing",
  inputs: {
    fast: whole(10, { min: 2, max: 400 }),
    slow: whole(40, { min: 3, max: 800 }),
    stop: decimal(2, { min: 0.1, max: 20 }),
    follow: yesNo(true),
  },
  build({ bars, inputs, when, enter }) {
    const [fast, slow] = [ema(bars.close, inputs.fast), ema(bars.close, inputs.slow)];
    const options = () => ({ reverse: true, stopLoss: percent(inputs.stop), size: equityPercent(90) });
    when(crossesAbove(fast, slow), () => (inputs.follow ? enter.long(options()) : enter.short(options())));
    when(crossesBelow(fast, slow), () => (inputs.follow ? enter.short(options()) : enter.long(options())));
  },
});
`;

const CHANNEL = `export default plan({
  title: "Tuned channel break",
  inputs: {
    span: whole(40, { min: 3, max: 400 }),
    stop: decimal(2, { min: 0.2, max: 20 }),
    target: decimal(4, { min: 0.2, max: 40 }),
    follow: yesNo(true),
  },
  build({ bars, inputs, when, enter, position }) {
    const range = atr(bars, 20);
    const [top, bottom] = [highest(bars.high, inputs.span).earlier(1), lowest(bars.low, inputs.span).earlier(1)];
    const options = () => ({
      reverse: true,
      stopLoss: multiple(range, inputs.stop),
      target: multiple(range, inputs.target),
      size: equityPercent(90),
    });
    const long = () => position.long || enter.long(options());
    const short = () => position.short || enter.short(options());
    when(crossesAbove(bars.close, top), () => (inputs.follow ? long() : short()));
    when(crossesBelow(bars.close, bottom), () => (inputs.follow ? short() : long()));
  },
});
`;

/** Every combination of some values of each input. */
function lattice(values: Readonly<Record<string, readonly (number | boolean)[]>>): InputValues[] {
  let all: Record<string, number | boolean>[] = [{}];
  for (const [name, some] of Object.entries(values)) all = all.flatMap((one) => some.map((value) => ({ ...one, [name]: value })));
  return all as InputValues[];
}

const crossing = lattice({ follow: [true, false], stop: [1.5, 5], fast: [3, 6, 10, 16, 24], apart: [6, 15, 30, 60, 120] }).map(
  ({ apart, ...rest }) => ({ ...rest, slow: Number(rest.fast) + Number(apart) }),
);

export const SEARCHES: readonly Search[] = [
  { name: "crossing", what: "a crossing of two averages, followed or faded, with a stop in percent", source: CROSSING, variants: crossing },
  {
    name: "channel break",
    what: "a close beyond the channel of the bars before, followed or faded, with a stop and a target in average true ranges",
    source: CHANNEL,
    variants: lattice({ follow: [true, false], span: [8, 14, 24, 40, 70, 120], stop: [2, 5], target: [3, 8, 20] }),
  },
];
