/** Ticks of a time axis whose unit is the bar: they stand where an hour, a day, a month or a year begins. */
import { utcToWall } from "@plan-tester/core";

const MINUTE = 60_000;
const DAY = 86_400_000;
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

interface Unit {
  readonly key: (wall: number) => number;
  readonly label: (wall: number, previous: number | null) => string;
}

const dayLabel = (wall: number): string => `${new Date(wall).getUTCDate()} ${MONTHS[new Date(wall).getUTCMonth()]}`;
const yearOf = (wall: number): number => new Date(wall).getUTCFullYear();
const monthLabel = (wall: number, previous: number | null): string => {
  const month = MONTHS[new Date(wall).getUTCMonth()]!;
  return previous === null || yearOf(previous) !== yearOf(wall) ? `${month} ${yearOf(wall)}` : month;
};
const clockLabel = (wall: number, previous: number | null): string =>
  previous === null || Math.floor(previous / DAY) !== Math.floor(wall / DAY) ? dayLabel(wall) : new Date(wall).toISOString().slice(11, 16);

const hours = (count: number): Unit => ({ key: (wall) => Math.floor(wall / (count * 3_600_000)), label: clockLabel });
const monthsOf = (count: number): Unit => ({
  key: (wall) => Math.floor((yearOf(wall) * 12 + new Date(wall).getUTCMonth()) / count),
  label: monthLabel,
});
const UNITS: readonly Unit[] = [
  { key: (wall) => Math.floor(wall / (15 * MINUTE)), label: clockLabel },
  hours(1),
  hours(3),
  hours(6),
  { key: (wall) => Math.floor(wall / DAY), label: dayLabel },
  { key: (wall) => Math.floor((wall / DAY + 3) / 7), label: dayLabel },
  monthsOf(1),
  monthsOf(3),
  monthsOf(12),
];

export interface Tick {
  readonly value: number;
  readonly label: string;
}

/** Sampled bars, so that long views stay cheap; a tick may then stand a little after its true bar. */
const SAMPLES = 1500;

export function timeTicks(time: Float64Array, zone: string, from: number, to: number, most: number): Tick[] {
  const first = Math.max(0, Math.ceil(from));
  const last = Math.min(time.length - 1, Math.floor(to));
  const stride = Math.max(1, Math.floor((last - first) / SAMPLES));
  for (const unit of UNITS) {
    const ticks: Tick[] = [];
    let before = first > 0 ? unit.key(utcToWall(zone, time[first - 1]!)) : Number.NaN;
    let previous: number | null = null;
    for (let i = first; i <= last && ticks.length <= most; i += stride) {
      const now = utcToWall(zone, time[i]!);
      const key = unit.key(now);
      if (key !== before) {
        ticks.push({ value: i, label: unit.label(now, previous) });
        previous = now;
      }
      before = key;
    }
    if (ticks.length <= most) return apart(ticks, (0.7 * (to - from)) / most);
  }
  return [];
}

/** Leaves out a first tick that the second would run into: it marks the edge of the view, not the start of a unit. */
function apart(ticks: readonly Tick[], least: number): Tick[] {
  const [first, second] = ticks;
  return first && second && second.value - first.value < least ? ticks.slice(1) : [...ticks];
}
