/** Numbers and times as the app writes them: tabular, a minus sign, thousands apart, a dash for what is undefined. */
const MINUS = "−";
const plainFormats = new Map<number, Intl.NumberFormat>();

function formatOf(decimals: number): Intl.NumberFormat {
  let format = plainFormats.get(decimals);
  if (!format) {
    format = new Intl.NumberFormat("en-GB", { minimumFractionDigits: decimals, maximumFractionDigits: decimals });
    plainFormats.set(decimals, format);
  }
  return format;
}

export const DASH = "–";
/** Where the user is. */
export const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone;

export function number(value: number | null | undefined, decimals = 0): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return DASH;
  const text = formatOf(decimals).format(value);
  return (Number(value.toFixed(decimals)) === 0 ? text.replace("-", "") : text).replace("-", MINUS);
}

/** With a plus sign when positive. */
export function signed(value: number | null | undefined, decimals = 0): string {
  const text = number(value, decimals);
  return value && value > 0 && text !== DASH && /[1-9]/.test(text) ? `+${text}` : text;
}

const MOST_DECIMALS = 8;

/** A size with all of its decimals, without the rounding noise of sums: 3, 0.05. */
export function units(value: number | null | undefined): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return DASH;
  const decimals = value
    .toFixed(MOST_DECIMALS)
    .replace(/\.?0+$/, "")
    .split(".")[1];
  return number(value, decimals?.length ?? 0);
}

/** Decimals that an amount of money needs: none from 100 on or where it is whole, two below, more where those would read 0. */
export function moneyDecimals(value: number): number {
  const size = Math.abs(value);
  if (!Number.isFinite(size) || size >= 100 || Number.isInteger(value)) return 0;
  return size >= 0.01 ? 2 : Math.min(MOST_DECIMALS, 1 - Math.floor(Math.log10(size)));
}

/** An amount of money: 1,234, 23.50, 0.34. */
export const money = (value: number | null | undefined): string => number(value, moneyDecimals(value ?? 0));

/** With a plus sign when positive. */
export const signedMoney = (value: number | null | undefined): string => signed(value, moneyDecimals(value ?? 0));

/** Decimals past those of an instrument that a price off its grid may show, such as a fill at half a tick of spread. */
const MORE_DECIMALS = 3;

/** Decimals that prices of one column need, at least those of their instrument: all are then written with as many. */
export function priceDecimals(values: readonly number[], decimals: number): number {
  const most = Math.min(MOST_DECIMALS, decimals + MORE_DECIMALS);
  let needed = decimals;
  for (const value of values) while (needed < most && Math.abs(value * 10 ** needed - Math.round(value * 10 ** needed)) > 1e-3) needed++;
  return needed;
}

/** A price with the decimals of its instrument, or more where it has more, so that differences add up. */
export const priceText = (value: number | null | undefined, decimals: number): string =>
  value === null || value === undefined || !Number.isFinite(value) ? DASH : number(value, priceDecimals([value], decimals));

const SAMPLES = 400;

/** Decimals that show three digits of values of a middling size: 0 for thousands, 2 for ones, 6 for 0.0003; 2 where there are none. */
export function decimalsOf(values: ArrayLike<number> | undefined): number {
  const sizes: number[] = [];
  const step = Math.max(1, Math.floor((values?.length ?? 0) / SAMPLES));
  for (let i = 0; values && i < values.length; i += step) {
    const size = Math.abs(values[i]!);
    if (Number.isFinite(size) && size > 0) sizes.push(size);
  }
  if (sizes.length === 0) return 2;
  const middling = sizes.sort((a, b) => a - b)[sizes.length >> 1]!;
  return Math.max(0, Math.min(MOST_DECIMALS, Math.ceil(2 - Math.log10(middling))));
}

/** Decimals that tell the marks of an axis over some values apart: 0 for a range of hundreds, 2 for one of 0.5. */
export function rangeDecimals(values: ArrayLike<number>): number {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < values.length; i++) {
    if (values[i]! < low) low = values[i]!;
    if (values[i]! > high) high = values[i]!;
  }
  return high > low ? Math.max(0, Math.min(MOST_DECIMALS, Math.ceil(1 - Math.log10(high - low)))) : 0;
}

/** A fraction as percent; the sign stays with its number. */
export function percent(fraction: number | null | undefined, decimals = 1): string {
  return fraction === null || fraction === undefined || !Number.isFinite(fraction) ? DASH : `${number(fraction * 100, decimals)}\u00a0%`;
}

export function count(value: number, one: string, many = `${one}s`): string {
  return `${number(value)} ${value === 1 ? one : many}`;
}

const zoned = new Map<string, Intl.DateTimeFormat>();

function zonedFormat(zone: string, kind: "minute" | "day" | "short"): Intl.DateTimeFormat {
  const key = `${zone}:${kind}`;
  let format = zoned.get(key);
  if (!format) {
    const day = { day: "numeric", month: "short" } as const;
    const clock = { hour: "2-digit", minute: "2-digit", hourCycle: "h23" } as const;
    format = new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      ...(kind === "short" ? clock : { ...day, year: "numeric" }),
      ...(kind === "minute" ? clock : {}),
    });
    zoned.set(key, format);
  }
  return format;
}

/** "12 Nov 2025, 10:45" at the exchange. */
export const timeAt = (ms: number | null | undefined, zone: string): string =>
  ms === null || ms === undefined ? DASH : zonedFormat(zone, "minute").format(ms);
export const dayAt = (ms: number | null | undefined, zone: string): string =>
  ms === null || ms === undefined ? DASH : zonedFormat(zone, "day").format(ms);
export const clockAt = (ms: number, zone: string): string => zonedFormat(zone, "short").format(ms);

/** "3 Mar 2025" of 2025-03-03. */
export const dateWords = (date: string): string => zonedFormat("UTC", "day").format(Date.parse(`${date}T00:00:00Z`));

const WEEKDAYS = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];

/** "Sat 2 May" of 2026-05-02. */
export const weekdayWords = (date: string): string =>
  `${WEEKDAYS[new Date(`${date}T00:00:00Z`).getUTCDay()]} ${dateWords(date).replace(/ \d{4}$/, "")}`;

/** "1 Mar 2024 – 28 Feb 2025". */
export const periodWords = ({ from, to }: { readonly from: string; readonly to: string }): string =>
  `${dateWords(from)} – ${dateWords(to)}`;

/** "0.31 s", "2 min 5 s". */
export function duration(ms: number): string {
  if (ms < 1000) return `${number(ms)} ms`;
  if (ms < 60_000) return `${number(ms / 1000, ms < 10_000 ? 1 : 0)} s`;
  const minutes = Math.floor(ms / 60_000);
  return minutes < 60 ? `${minutes} min ${Math.round((ms % 60_000) / 1000)} s` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

const MEGABYTE = 1_048_576;

/** Memory: 340 MB, 1.2 GB. */
export function bytes(value: number): string {
  const megabytes = value / MEGABYTE;
  if (megabytes > 0 && megabytes < 0.95) return `${number(Math.ceil(value / 1024))} kB`;
  return megabytes < 1000 ? `${number(Math.ceil(megabytes))} MB` : `${number(megabytes / 1024, 1)} GB`;
}
