/** What a file leaves open, asked with the likelier answer first. */
import type { BarLayout, CsvLayout, LayoutQuestion, TickLayout } from "@plan-tester/core";
import { Button } from "../../ui/button.tsx";

/** Questions that a choice of another layout answers. */
export function answeredBy(before: CsvLayout | null, after: CsvLayout): LayoutQuestion["about"][] {
  if (!before) return [];
  type Key = keyof BarLayout | keyof TickLayout;
  const under = (layout: CsvLayout, key: Key): unknown => (layout as Partial<Record<Key, unknown>>)[key];
  const differs = (...keys: Key[]): boolean => keys.some((key) => under(before, key) !== under(after, key));
  return [
    ...(differs("dateFormat") ? (["date-order"] as const) : []),
    ...(differs("decimal") ? (["decimal"] as const) : []),
    ...(differs("kind", "time", "clock", "open", "high", "low", "close", "price", "bid", "ask") ? (["columns"] as const) : []),
    ...(differs("volume") ? (["volume"] as const) : []),
  ];
}

export function ImportQuestions({
  questions,
  onAnswer,
}: {
  readonly questions: readonly LayoutQuestion[];
  readonly onAnswer: (question: LayoutQuestion, layout: Partial<BarLayout> | Partial<TickLayout>) => void;
}) {
  return questions.map((question) => (
    <div key={question.about} role="group" aria-label="Question" className="border-loss border-l-3 bg-sunk px-2.5 py-1.5">
      <p>
        {question.text} {question.answers.length > 0 ? "Which is right?" : "Choose above what each column is."}
      </p>
      <div className="mt-1 flex flex-wrap gap-2">
        {question.answers.map(({ label, layout }) => (
          <Button key={label} onClick={() => onAnswer(question, layout)}>
            {label}
          </Button>
        ))}
      </div>
    </div>
  ));
}
