/** The chosen variant of a sweep, in-sample and out-of-sample apart, and what can be done with it. */

import { columnOf } from "../../lib/aims.ts";
import { number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { definitionAt, type SweepViewProps, valueAt, valueText, WIDTH } from "./sweep-view.ts";
import type { Candidates } from "./use-candidates.ts";

export interface SelectedVariantProps {
  readonly view: SweepViewProps;
  readonly candidates: Candidates;
  readonly onOpen: (variant: number, stretch: 0 | 1) => void;
}

export function SelectedVariant({ view, candidates, onOpen }: SelectedVariantProps) {
  const { stretches, selected } = view;
  return (
    // Of one height with a variant and without, so that nothing moves under the pointer that chooses one.
    <div className="flex min-h-10 flex-wrap items-center gap-x-3 gap-y-1 border-rule border-b px-4 py-1">
      {selected === null ? (
        <span className="text-[13px] text-soft">Choose a variant, by mouse or arrow keys, to open it as a run.</span>
      ) : (
        <Chosen view={view} variant={selected} candidates={candidates} onOpen={onOpen} />
      )}
      {candidates.picked.length > 1 ? (
        <Button variant="primary" onClick={() => void candidates.compare()}>
          Compare {number(candidates.picked.length)} picked{stretches === 2 ? ", out-of-sample" : ""}
        </Button>
      ) : null}
    </div>
  );
}

function Chosen({ view, variant, candidates, onOpen }: SelectedVariantProps & { readonly variant: number }) {
  const { inputs, linked, variants, stretches } = view;
  const figure = (stretch: 0 | 1, key: "netProfit" | "returnToDrawdown"): string => {
    const column = stretch * WIDTH + columnOf(key);
    return definitionAt(column).text(valueAt(view, variant, column));
  };
  const isPicked = candidates.picked.includes(variant);
  return (
    <>
      <span>
        {[...inputs, ...linked].map(({ name, label }) => (
          <span key={name} className="mr-2">
            {label} <strong>{valueText(variants[variant]![name])}</strong>
          </span>
        ))}
        <span className="text-soft max-[1100px]:hidden">
          in {figure(0, "netProfit")}, {figure(0, "returnToDrawdown")}
          {stretches === 2 ? ` · out ${figure(1, "netProfit")}, ${figure(1, "returnToDrawdown")}` : ""}
        </span>
      </span>
      <Button onClick={() => onOpen(variant, 0)}>Open in-sample run</Button>
      {stretches === 2 ? <Button onClick={() => onOpen(variant, 1)}>Open out-of-sample run</Button> : null}
      <Button onClick={() => void candidates.keepVariant(variant)}>Keep as variant</Button>
      <Button aria-pressed={isPicked} onClick={() => candidates.toggle(variant)}>
        {isPicked ? "Unpick" : "Pick to compare"}
      </Button>
    </>
  );
}
