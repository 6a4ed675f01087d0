/** What the stepper says of the bar one stands on: events in words, and the values of the plan's names. */
import { STRIP } from "@plan-tester/core";
import type { NamedStrip } from "../../charts/strip-layers.ts";
import { number } from "../../lib/format.ts";
import type { Stepper } from "./use-stepper.ts";
import type { BarFacts } from "./why.ts";

export type SteppedStrip = NamedStrip & Pick<BarFacts["strips"][number], "line" | "kind">;

const KIND_WORDS = { accepted: "sent", filled: "filled", opened: "opened", closed: "closed", ended: "ended", log: "" } as const;

export function wordsOf(event: Stepper["events"][number], steps: Stepper["steps"]): string {
  if (event.kind === "value")
    return `${steps?.names[event.place]?.text ?? ""} = ${event.text || number(event.value, Number.isInteger(event.value) ? 0 : 4)}`;
  if (event.kind === "test") return `${steps?.tests[event.place]?.text ?? ""} ${event.value === 1 ? "✓ yes" : "✗ no"}`;
  return `${KIND_WORDS[event.kind]} ${event.text}`.trim();
}

interface Seen {
  readonly name: string;
  readonly line: number;
  readonly text: string;
}

/** Columns at the bar, conditions at the bar, then what handlers last worked out up to the event one stands on. */
export function namedValues({ steps, bar, events, eventAt }: Stepper, strips: readonly SteppedStrip[]): Seen[] {
  if (!steps || bar === null) return [];
  const show = (value: number | null | undefined): string => number(value ?? null, Number.isInteger(value) ? 0 : 4);
  const named = (place: number, text: string): Seen => ({ name: steps.names[place]!.text, line: steps.names[place]!.line, text });
  const last = new Map<number, string>();
  const current = eventAt >= 0 ? events[eventAt] : undefined;
  for (const event of steps.events) {
    if (event.barIndex > bar) break;
    if (event.kind === "value") last.set(event.place, event.text || show(event.value));
    if (event === current) break;
  }
  return [
    ...steps.columns.map(({ name, part, values }) => {
      const seen = named(name, show(values[bar - steps.from]));
      return part ? { ...seen, name: `${seen.name}.${part}` } : seen;
    }),
    ...strips
      .filter(({ kind }) => kind === "holds")
      .map(({ label, line, values }) => ({
        name: label,
        line,
        text: values[bar] === STRIP.yes ? "✓ yes" : values[bar] === STRIP.no ? "✗ no" : "–",
      })),
    ...[...last].map(([place, text]) => named(place, text)),
  ];
}
