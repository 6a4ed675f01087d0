/** Which sign parts whole units from decimals. */
import type { LayoutQuestion } from "./layout-question.ts";
import { type DecimalSign, readNumber } from "./number-text.ts";

/** A number's signs: which one parts the decimals, or only may. */
function signOf(field: string): { sure: DecimalSign } | { maybe: DecimalSign } | null {
  const plain = field.replace(/^[+-]/, "");
  const [points, commas] = [plain.split(".").length - 1, plain.split(",").length - 1];
  if (points + commas === 0) return null;
  if (points > 0 && commas > 0) return { sure: plain.lastIndexOf(".") > plain.lastIndexOf(",") ? "." : "," };
  const [own, other]: [DecimalSign, DecimalSign] = points > 0 ? [".", ","] : [",", "."];
  if (points + commas > 1) return { sure: other };
  return /^[1-9]\d{0,2}[.,]\d{3}$/.test(plain) ? { maybe: own } : { sure: own };
}

/**
 * The sign between whole units and decimals of some columns, asked where two fit.
 * @param isLikely whether the numbers of a line, by columns, can be what they are said to be; NaN for what is no number
 */
export function guessDecimal(
  rows: readonly (readonly string[])[],
  columns: readonly (number | null)[],
  isLikely: (numbers: readonly number[]) => boolean,
  questions: LayoutQuestion[],
): DecimalSign {
  const sure = { ".": 0, ",": 0 };
  const maybe = new Map<DecimalSign, string>();
  for (const row of rows)
    for (const column of columns) {
      const sign = signOf(column === null ? "" : (row[column] ?? ""));
      if (sign && "sure" in sign) sure[sign.sure]++;
      else if (sign && !maybe.has(sign.maybe)) maybe.set(sign.maybe, row[column!]!);
    }
  if (sure["."] !== sure[","]) return sure["."] > sure[","] ? "." : ",";
  const [first] = maybe;
  if (!first) return ".";
  const readings = ([".", ","] as const).filter((decimal) => {
    const valid = rows.filter((row) =>
      isLikely(columns.flatMap((column) => (column === null ? [] : [readNumber(row[column] ?? "", decimal)]))),
    );
    return valid.length >= 0.9 * rows.length;
  });
  if (readings.length === 1) return readings[0]!;
  const [own, example] = first;
  const other = own === "." ? "," : ".";
  const [whole, rest] = example.split(own);
  questions.push({
    about: "decimal",
    text: `"${example}" can be ${whole} and ${rest} thousandths or ${whole}${rest} whole.`,
    answers: [
      { label: `${whole}.${rest}`, layout: { decimal: own } },
      { label: `${whole}${rest}`, layout: { decimal: other } },
    ],
  });
  return own;
}
