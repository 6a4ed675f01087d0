import { ALL_HISTORY, BARS, newColumn, numberInput, type StudyDefinition } from "./definition.ts";

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
    for (let i = 1; i < length; i++) {
      const before = Math.max(i - 2, 0);
      stop += speed * (extreme - stop);
      stop = side > 0 ? Math.min(stop, low[i - 1]!, low[before]!) : Math.max(stop, high[i - 1]!, high[before]!);
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
