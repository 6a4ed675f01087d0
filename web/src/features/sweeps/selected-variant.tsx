/** The chosen variant of a sweep, in-sample and out-of-sample apart, and what can be done with it. */
import { Button } from "../../ui/button.tsx";
import { columnOf } from "./aims.ts";
import { definitionAt, type SweepViewProps, valueAt, valueText, WIDTH } from "./sweep-view.ts";
import type { Candidates } from "./use-candidates.ts";

export interface SelectedVariantProps {
  readonly view: SweepViewProps;
  readonly candidates: Candidates;
  readonly onOpen: (variant: number, stretch: 0 | 1) => void;
}

export function SelectedVariant({ view, candidates, onOpen }: SelectedVariantProps) {
  const { inputs, linked, variants, stretches, selected } = view;
  if (selected === null) return <span className="text-[13px] text-soft">Choose a variant to open it as a run.</span>;
  const figure = (stretch: 0 | 1, key: "netProfit" | "returnToDrawdown"): string => {
    const column = stretch * WIDTH + columnOf(key);
    return definitionAt(column).text(valueAt(view, selected, column));
  };
  const isPicked = candidates.picked.includes(selected);
  return (
    <div className="flex flex-wrap items-center gap-x-3">
      <span>
        {[...inputs, ...linked].map(({ name, label }) => (
          <span key={name} className="mr-2">
            {label} <strong>{valueText(variants[selected]![name])}</strong>
          </span>
        ))}
        <span className="text-soft">
          in {figure(0, "netProfit")}, {figure(0, "returnToDrawdown")}
          {stretches === 2 ? ` · out ${figure(1, "netProfit")}, ${figure(1, "returnToDrawdown")}` : ""}
        </span>
      </span>
      <Button onClick={() => onOpen(selected, 0)}>Open in-sample run</Button>
      {stretches === 2 ? <Button onClick={() => onOpen(selected, 1)}>Open out-of-sample run</Button> : null}
      <Button onClick={() => void candidates.keepVariant(selected)}>Keep as variant</Button>
      <Button aria-pressed={isPicked} onClick={() => candidates.toggle(selected)}>
        {isPicked ? "Unpick" : "Pick to compare"}
      </Button>
    </div>
  );
}
