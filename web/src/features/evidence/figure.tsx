/** A figure with its definition and what stands behind it at hand: hover, focus or tap the label. */
import type { RunFigures } from "@plan-tester/core";
import { dateWords, number, percent, signedMoney } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Popover, PopoverClose } from "../../ui/popover.tsx";
import { type EvidenceView, filterOf, useEvidenceActs } from "../run-view/view.ts";
import { daysBehind, tradesBehind } from "./behind.ts";
import { figureNamed } from "./definitions.ts";

export interface FigureLabelProps {
  readonly name: keyof RunFigures;
  readonly text?: string;
  readonly view: EvidenceView;
}

export function FigureLabel({ name, text, view }: FigureLabelProps) {
  const { label } = figureNamed(name);
  return (
    <Popover
      label={label}
      className="max-w-80"
      trigger={
        <button
          type="button"
          className="min-h-6 truncate rounded-xs text-left text-soft decoration-dotted underline-offset-3 hover:underline"
        >
          {text ?? label.toLowerCase()}
        </button>
      }
    >
      <Behind name={name} view={view} />
    </Popover>
  );
}

/** Worked out only while it is open. */
function Behind({ name, view }: Omit<FigureLabelProps, "text">) {
  const { label, definition, source } = figureNamed(name);
  const acts = useEvidenceActs();
  const trades = tradesBehind(name, view.trades);
  const days = daysBehind(name, view);
  return (
    <>
      <h3 className="font-semibold">{label}</h3>
      <p>{definition}</p>
      {source ? <p className="text-soft">{source}</p> : null}
      {trades && trades.length > 0 ? (
        <PopoverClose asChild>
          <Button className="mt-2" onClick={() => acts.showTrades(filterOf(label.toLowerCase(), trades))}>
            Show {trades.length === 1 ? "its trade" : `its ${number(trades.length)} trades`}
          </Button>
        </PopoverClose>
      ) : null}
      {days ? (
        <table className="mt-2 w-full">
          <caption className="text-left text-soft">Worst and best of {number(days.count)} sessions</caption>
          <tbody>
            {[...days.worst, ...days.best].map(({ date, net, share }) => (
              <tr key={date} className="border-rule border-t">
                <th scope="row" className="text-left font-normal">
                  {dateWords(date)}
                </th>
                <td className="pl-4 text-right">{signedMoney(net)}</td>
                <td className="pl-4 text-right">{percent(share, 2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </>
  );
}

export function FigureRow({ name, text, view }: FigureLabelProps) {
  return (
    <div className="flex items-baseline justify-between gap-3">
      <FigureLabel name={name} view={view} {...(text ? { text } : {})} />
      <span className="whitespace-nowrap font-semibold">{figureNamed(name).text(view.figures[name])}</span>
    </div>
  );
}
