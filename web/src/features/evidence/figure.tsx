/** A figure with its definition at hand: hover, focus or tap the label. */
import type { RunFigures } from "@plan-tester/core";
import { Popover } from "radix-ui";
import { figureNamed } from "./definitions.ts";

export function FigureLabel({ name, text }: { readonly name: keyof RunFigures; readonly text?: string }) {
  const { label, definition, source } = figureNamed(name);
  return (
    <Popover.Root>
      <Popover.Trigger className="truncate rounded-xs text-left text-soft decoration-dotted underline-offset-3 hover:underline">
        {text ?? label.toLowerCase()}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          sideOffset={4}
          className="z-50 max-w-72 rounded-md border border-rule bg-sheet p-3 text-[13px] shadow-(--shadow)"
        >
          <h3 className="font-semibold">{label}</h3>
          <p>{definition}</p>
          {source ? <p className="text-soft">{source}</p> : null}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

export function FigureRow({
  figures,
  name,
  text,
}: {
  readonly figures: RunFigures;
  readonly name: keyof RunFigures;
  readonly text?: string;
}) {
  return (
    <div className="flex items-baseline justify-between gap-3">
      <FigureLabel name={name} {...(text ? { text } : {})} />
      <span className="whitespace-nowrap font-semibold">{figureNamed(name).text(figures[name])}</span>
    </div>
  );
}
