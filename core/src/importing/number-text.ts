/** Numbers as they stand in files, read from bytes, strictly: groups of thousands must be groups of three. */
import { shortened, textOf } from "./time-text.ts";

/** Sign between whole units and decimals. The other one, spaces and apostrophes may part thousands. */
export type DecimalSign = "." | ",";

const POWERS = Array.from({ length: 23 }, (_, i) => 10 ** i);
const PLAIN = /^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$/;
const GROUPS_OF_THREE = /^[+-]?\d{1,3}((,\d{3})+|( \d{3})+|('\d{3})+)(\.\d*)?$/;

/** Spaces of every width become one; the decimal sign a point. */
const withPoint = (text: string, decimal: DecimalSign): string => {
  const plain = text
    .replace(/\u00c2?\u00a0|\u00e2\u0080\u00af|\u202f/g, " ")
    .replace(/\u2019|\u00e2\u0080\u0099/g, "'")
    .trim();
  return decimal === "." ? plain : plain.replace(/[.,]/g, (sign) => (sign === "." ? "," : "."));
};

/**
 * A number written with a decimal sign.
 * @returns NaN for what is none, an empty text too
 */
export function readNumber(text: string, decimal: DecimalSign): number {
  const plain = withPoint(text, decimal);
  if (PLAIN.test(plain)) return Number(plain);
  return GROUPS_OF_THREE.test(plain) ? Number(plain.replace(/[, ']/g, "")) : Number.NaN;
}

/** The same from bytes: up to 15 digits exactly rounded by one division, the rest by way of the text. */
export function readNumberAt(bytes: Uint8Array, start: number, end: number, decimal: DecimalSign): number {
  const sign = decimal === "." ? 46 : 44;
  let i = start;
  let negative = false;
  if (bytes[i] === 45) {
    negative = true;
    i++;
  }
  let mantissa = 0;
  let digits = 0;
  let decimals = -1;
  for (; i < end; i++) {
    const byte = bytes[i]!;
    if (byte >= 48 && byte <= 57) {
      mantissa = mantissa * 10 + byte - 48;
      digits++;
      if (decimals >= 0) decimals++;
    } else if (byte === sign && decimals < 0) decimals = 0;
    else return readNumber(textOf(bytes, start, end), decimal);
  }
  if (digits === 0) return Number.NaN;
  if (digits > 15) return readNumber(textOf(bytes, start, end), decimal);
  const value = decimals > 0 ? mantissa / POWERS[decimals]! : mantissa;
  return negative ? -value : value;
}

const SIZES: Readonly<Record<string, number>> = { K: 1e3, M: 1e6, B: 1e9 };

/** A volume, which some files write as 1.25M. */
export function readVolumeAt(bytes: Uint8Array, start: number, end: number, decimal: DecimalSign): number {
  const size = end > start ? SIZES[String.fromCharCode(bytes[end - 1]! & 0xdf)] : undefined;
  return size === undefined ? readNumberAt(bytes, start, end, decimal) : readNumberAt(bytes, start, end - 1, decimal) * size;
}

/**
 * Says which field of a line is no number.
 * @param fields where the fields of the line begin and end
 * @param columns by the words for them, in the order in which they are told; a volume or a size may be written as 1.25M
 * @returns null where all are numbers
 */
export function notANumber(
  bytes: Uint8Array,
  fields: { readonly starts: Int32Array; readonly ends: Int32Array },
  columns: Readonly<Record<string, number | null>>,
  decimal: DecimalSign,
): string | null {
  for (const [word, column] of Object.entries(columns)) {
    if (column === null) continue;
    const [start, end] = [fields.starts[column]!, fields.ends[column]!];
    const read = word === "volume" || word === "size" ? readVolumeAt : readNumberAt;
    if (!Number.isNaN(read(bytes, start, end, decimal))) continue;
    if (start === end) return `its ${word} is empty`;
    return `its ${word} "${shortened(textOf(bytes, start, end))}" is not a number with a decimal ${decimal === "." ? "point" : "comma"}`;
  }
  return null;
}
