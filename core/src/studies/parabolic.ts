import { ALL_HISTORY, BARS, numberInput, type StudyDefinition } from "./definition.ts";
import { carriedBefore, carry, newColumn, startAt } from "./growth.ts";

export const parabolic: StudyDefinition = {
  name: "parabolic",
  group: "stop",
  unit: "price",
  summary: "Parabolic stop: a line that closes in on price faster with each new extreme, and its direction",
  formula:
    "s = s[1] + a * (extreme - s[1]), kept beyond the two bars before; a grows by step up to most with each new extreme; price past s turns it to the extreme",
  warmUp: "1 bar; begins in the direction of the second bar's close",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "price",
  inputs: [BARS, numberInput("step", 0.02, 0.0001, 1), numberInput("most", 0.2, 0.0001, 1)],
  outputs: ["line", "direction"],
  settle: ALL_HISTORY,
  compute: ({ bars, numbers }) => {
    const { high, low, close, length } = bars;
    const [step, most] = [numbers[0]!, numbers[1]!];
    const line = newColumn(length, 1);
    const direction = newColumn(length, 1);
    let side = length > 1 && close[1]! < close[0]! ? -1 : 1;
    let stop = length > 0 ? (side > 0 ? low[0]! : high[0]!) : Number.NaN;
    let extreme = length > 0 ? (side > 0 ? high[0]! : low[0]!) : Number.NaN;
    let speed = step;
    // The first side is that of the first two bars: they have to be final.
    const before = startAt(0) > 1 ? carriedBefore() : null;
    if (before) [side, stop, extreme, speed] = before as [number, number, number, number];
    for (let i = before ? startAt(1) : 1; i < length; i++) {
      if (i === length - 1) carry(side, stop, extreme, speed);
      const second = Math.max(i - 2, 0);
      stop += speed * (extreme - stop);
      stop = side > 0 ? Math.min(stop, low[i - 1]!, low[second]!) : Math.max(stop, high[i - 1]!, high[second]!);
      if (side > 0 ? low[i]! < stop : high[i]! > stop) {
        side = -side;
        stop = side > 0 ? Math.min(extreme, low[i]!) : Math.max(extreme, high[i]!);
        extreme = side > 0 ? high[i]! : low[i]!;
        speed = step;
      } else if (side > 0 ? high[i]! > extreme : low[i]! < extreme) {
        extreme = side > 0 ? high[i]! : low[i]!;
        speed = Math.min(speed + step, most);
      }
      line[i] = stop;
      direction[i] = side;
    }
    return [
      { values: line, first: 1 },
      { values: direction, first: 1 },
    ];
  },
};
