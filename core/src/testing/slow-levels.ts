/** Slow twins of levels: swings and legs, the cloud, volume-weighted prices, volume by price, levels of sessions. */
import type { BarSeries } from "../market/bars.ts";
import { type List, sumOf, windowOf } from "./slow-lists.ts";

/** The last swing known at each place: looked for anew each time, from the newest that can be known back. */
const slowSwing = (values: List, strength: number, sign: 1 | -1): number[] =>
  values.map((_value, i) => {
    for (let c = i - strength; c >= strength; c--) {
      const before = values.slice(c - strength, c).every((value) => sign * value <= sign * values[c]!);
      const after = values.slice(c + 1, c + 1 + strength).every((value) => sign * value < sign * values[c]!);
      if (before && after) return values[c]!;
    }
    return Number.NaN;
  });

/** Turning points as a list of confirmed legs, each told by the bar on which it is known. */
function slowZigzag(values: List, percent: number): { turn: number[]; direction: number[] } {
  const legs: { knownAt: number; from: number; way: number }[] = [];
  let start = 0;
  for (let i = 1; i < values.length; i++) {
    const way = legs.at(-1)?.way;
    const part = values.slice(start, i);
    const [top, bottom] = [Math.max(...part), Math.min(...part)];
    const isUp = values[i]! >= bottom * (1 + percent / 100);
    const isDown = values[i]! <= top * (1 - percent / 100);
    if (way !== 1 && isUp) legs.push({ knownAt: i, from: bottom, way: 1 });
    else if (way !== -1 && isDown) legs.push({ knownAt: i, from: top, way: -1 });
    else continue;
    start = i;
  }
  const legAt = (i: number) => legs.findLast(({ knownAt }) => knownAt <= i);
  return {
    turn: values.map((_value, i) => legAt(i)?.from ?? Number.NaN),
    direction: values.map((_value, i) => legAt(i)?.way ?? Number.NaN),
  };
}

export function levelTwins(bars: BarSeries): readonly (readonly [string, List])[] {
  const [open, high, low, close, volume] = [bars.open, bars.high, bars.low, bars.close, bars.volume].map((column) =>
    Array.from(column),
  ) as [number[], number[], number[], number[], number[]];
  const indices = close.map((_value, i) => i);
  const from = (first: number, value: (i: number) => number): number[] => indices.map((i) => (i < first ? Number.NaN : value(i)));
  const age = (span: number, best: (...values: number[]) => number): number[] =>
    from(span - 1, (i) => {
      const window = windowOf(close, i, span);
      return span - 1 - window.lastIndexOf(best(...window));
    });
  const middle = (i: number, span: number): number => (Math.max(...windowOf(high, i, span)) + Math.min(...windowOf(low, i, span))) / 2;
  const typical = close.map((value, i) => (high[i]! + low[i]! + value) / 3);

  const weighted = (begin: number, end: number, bands: number): number => {
    const [t, w] = [typical.slice(begin, end + 1), volume.slice(begin, end + 1)];
    const total = sumOf(w);
    if (total === 0) return typical[end]!;
    const mean = sumOf(t.map((value, k) => value * w[k]!)) / total;
    return mean + bands * Math.sqrt(sumOf(t.map((value, k) => w[k]! * (value - mean) ** 2)) / total);
  };
  const startOf = (i: number): number => bars.session.indexOf(bars.session[i]!);
  /** Days since a Monday long ago. */
  const dayOf = (i: number): number => (Date.parse(bars.sessions.dates[bars.session[i]!]!) - Date.UTC(1900, 0, 1)) / 86_400_000;
  const weekStart = (i: number): number => indices.find((k) => Math.floor(dayOf(k) / 7) === Math.floor(dayOf(i) / 7))!;

  /** Volume of so many bars in each of so many rows: of each bar by the share of its range that lies in the row. */
  const profile = (i: number, span: number, rows: number) => {
    const part = indices.slice(i - span + 1, i + 1);
    const [bottom, top] = [Math.min(...part.map((k) => low[k]!)), Math.max(...part.map((k) => high[k]!))];
    const height = (top - bottom) / rows;
    const held = Array.from({ length: rows }, (_row, row) => {
      const [under, over] = [bottom + row * height, bottom + (row + 1) * height];
      const shareOf = (k: number): number => {
        // A bar that did not move lies in one row as a whole.
        if (high[k] === low[k]) return low[k]! >= under && (low[k]! < over || row === rows - 1) ? 1 : 0;
        return Math.max(0, Math.min(over, high[k]!) - Math.max(under, low[k]!)) / (high[k]! - low[k]!);
      };
      return sumOf(part.map((k) => volume[k]! * shareOf(k)));
    });
    const fullest = held.indexOf(Math.max(...held));
    const area = [fullest];
    while (sumOf(area.map((row) => held[row]!)) < 0.7 * sumOf(held)) {
      const [under, over] = [Math.min(...area) - 1, Math.max(...area) + 1];
      area.push((held[over] ?? -1) >= (held[under] ?? -1) ? over : under);
    }
    return {
      control: bottom + (fullest + 0.5) * height,
      high: bottom + (Math.max(...area) + 1) * height,
      low: bottom + Math.min(...area) * height,
    };
  };

  const before = (value: (high: number, low: number, close: number, open: number) => number): number[] =>
    indices.map((i) => {
      const begin = startOf(i);
      if (begin === 0) return Number.NaN;
      const earlier = startOf(begin - 1);
      return value(Math.max(...high.slice(earlier, begin)), Math.min(...low.slice(earlier, begin)), close[begin - 1]!, open[begin]!);
    });
  const opening = (i: number, minutes: number): number[] =>
    indices.filter(
      (k) => k >= startOf(i) && k <= i && (k === startOf(i) || bars.time[k]! < bars.sessions.openMs[bars.session[i]!]! + minutes * 60_000),
    );

  const averagedClose = indices.map((i) => (open[i]! + high[i]! + low[i]! + close[i]!) / 4);
  const averagedOpen: number[] = [(open[0]! + close[0]!) / 2];
  for (let i = 1; i < close.length; i++) averagedOpen.push((averagedOpen[i - 1]! + averagedClose[i - 1]!) / 2);

  return [
    ["swingHigh(high, 3)", slowSwing(high, 3, 1)],
    ["swingHigh(close, 1)", slowSwing(close, 1, 1)],
    ["swingLow(low, 3)", slowSwing(low, 3, -1)],
    ["zigzag(close, 0.5)", slowZigzag(close, 0.5).turn],
    ["zigzag(close, 0.5).direction", slowZigzag(close, 0.5).direction],
    ["zigzag(close, 2)", slowZigzag(close, 2).turn],
    ["barsSinceHighest(close, 20)", age(20, Math.max)],
    ["barsSinceLowest(close, 20)", age(20, Math.min)],
    ["cloudLines(9, 26, 52)", from(8, (i) => middle(i, 9))],
    ["cloudLines(9, 26, 52).base", from(25, (i) => middle(i, 26))],
    ["cloudLines(9, 26, 52).leadA", from(51, (i) => (middle(i - 26, 9) + middle(i - 26, 26)) / 2)],
    ["cloudLines(9, 26, 52).leadB", from(77, (i) => middle(i - 26, 52))],
    ["weeklyVwap(2)", indices.map((i) => weighted(weekStart(i), i, 0))],
    ["weeklyVwap(2).upper", indices.map((i) => weighted(weekStart(i), i, 2))],
    ["weeklyVwap(1.5).lower", indices.map((i) => weighted(weekStart(i), i, -1.5))],
    ["anchoredVwap(barsSinceOpen(), 2)", indices.map((i) => weighted(startOf(i), i, 0))],
    ["anchoredVwap(barsSinceOpen(), 2).upper", indices.map((i) => weighted(startOf(i), i, 2))],
    ["anchoredVwap(barsSinceHighest(close, 5), 1)", from(4, (i) => weighted(anchorBefore(age(5, Math.max), i), i, 0))],
    ["volumeByPrice(30, 12, 0.7)", from(29, (i) => profile(i, 30, 12).control)],
    ["volumeByPrice(30, 12, 0.7).high", from(29, (i) => profile(i, 30, 12).high)],
    ["volumeByPrice(30, 12, 0.7).low", from(29, (i) => profile(i, 30, 12).low)],
    ["floorPivots()", before((h, l, c) => (h + l + c) / 3)],
    ["floorPivots().r1", before((h, l, c) => (2 * (h + l + c)) / 3 - l)],
    ["floorPivots().s2", before((h, l, c) => (h + l + c) / 3 - h + l)],
    ["floorPivots().r3", before((h, l, c) => h + 2 * ((h + l + c) / 3 - l))],
    ["floorPivots().s3", before((h, l, c) => l - 2 * (h - (h + l + c) / 3))],
    ["openPivots()", before((h, l, _c, o) => (h + l) / 4 + o / 2)],
    ["openPivots().s1", before((h, l, _c, o) => 2 * ((h + l) / 4 + o / 2) - h)],
    ["ratioPivots().r1", before((h, l, c) => (h + l + c) / 3 + 0.382 * (h - l))],
    ["ratioPivots().s2", before((h, l, c) => (h + l + c) / 3 - 0.618 * (h - l))],
    ["ratioPivots().r3", before((h, l, c) => (h + l + c) / 3 + (h - l))],
    ["closePivots()", before((_h, _l, c) => c)],
    ["closePivots().r1", before((h, l, c) => c + ((h - l) * 1.1) / 12)],
    ["closePivots().s3", before((h, l, c) => c - ((h - l) * 1.1) / 4)],
    ["openingMinutes(120)", indices.map((i) => Math.max(...opening(i, 120).map((k) => high[k]!)))],
    ["openingMinutes(20).low", indices.map((i) => Math.min(...opening(i, 20).map((k) => low[k]!)))],
    ["averagedBars()", averagedOpen],
    ["averagedBars().close", averagedClose],
    ["averagedBars().high", indices.map((i) => Math.max(high[i]!, averagedOpen[i]!, averagedClose[i]!))],
    ["averagedBars().low", indices.map((i) => Math.min(low[i]!, averagedOpen[i]!, averagedClose[i]!))],
  ];
}

/** The last bar at which an anchor was 0 or fell; its first value's where it never did. */
function anchorBefore(anchor: List, i: number): number {
  const first = anchor.findIndex((value) => !Number.isNaN(value));
  for (let k = i; k > first; k--) if (anchor[k] === 0 || anchor[k]! < anchor[k - 1]!) return k;
  return first;
}
