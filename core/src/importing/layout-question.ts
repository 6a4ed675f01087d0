/** What is told of a file from its lines, and what has to be asked. */
import type { DateGuess } from "./date-order.ts";
import type { BarLayout, CsvLayout, TickLayout } from "./file-layout.ts";

/** Something about a file that only its owner knows. */
export interface LayoutQuestion {
  readonly about: "date-order" | "decimal" | "columns" | "volume";
  /** Why both readings fit. */
  readonly text: string;
  /** The likelier one first. Empty where only the roles of the columns can answer. */
  readonly answers: readonly { readonly label: string; readonly layout: Partial<BarLayout> | Partial<TickLayout> }[];
}

export interface LayoutGuess {
  readonly layout: CsvLayout;
  readonly questions: readonly LayoutQuestion[];
  /** The lines that it was told from, split into fields; blank ones left out. */
  readonly rows: readonly (readonly string[])[];
}

export function askDateOrder({ format, others, example, why }: DateGuess): LayoutQuestion | null {
  if (others.length === 0) return null;
  const words = { dmy: "day, month, year", mdy: "month, day, year", ymd: "year, month, day" } as const;
  return {
    about: "date-order",
    text: `"${example}" and every other date of the file can be read in more than one order.${why}`,
    answers: [format, ...others].map((one) => ({ label: words[one as keyof typeof words], layout: { dateFormat: one } })),
  };
}
