/** One study: what it is, its formula and source, a line to copy, and how it looks. */
import type { Market } from "@plan-tester/contract";
import { expressionOf, type StudyDefinition, spokenStudy } from "@plan-tester/core";
import { Copy } from "lucide-react";
import { Fragment } from "react";
import { toast } from "sonner";
import { Button } from "../../ui/button.tsx";
import { StudyChart } from "./study-chart.tsx";
import { programLine, sheetWords } from "./study-lines.ts";

async function copy(text: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text);
    toast.success("Copied");
  } catch {
    toast.error("The browser does not let this page copy. Select the line and press Ctrl+C.");
  }
}

export function StudyView({ study, markets }: { readonly study: StudyDefinition; readonly markets: readonly Market[] }) {
  const { name, summary, formula, source, warmUp, unit, inputs, outputs, group } = study;
  const numbers = inputs.flatMap((input) => (input.kind === "number" ? [input] : []));
  const lines = [
    ["In a program", programLine(study)],
    ["In a rule sheet", sheetWords(study)],
    ["As text", expressionOf(study)],
  ] as const;
  const facts: readonly (readonly [string, string])[] = [
    ["Formula", formula],
    ["First value", warmUp],
    ["Unit", unit],
    ["Columns", outputs.length > 1 ? outputs.join(", ") : "one"],
    [
      "Numbers",
      numbers
        .map(({ name: input, min, max, default: usual }) => `${input} ${usual} (${min} to ${max.toLocaleString("en-GB")})`)
        .join(", ") || "none",
    ],
    ["Source", source],
  ];
  return (
    <article aria-label={spokenStudy(name)} className="flex min-h-full flex-col gap-3 p-4">
      <header>
        <h2 className="font-semibold text-[17px]">
          <span className="inline-block first-letter:uppercase">{spokenStudy(name)}</span>{" "}
          <span className="font-mono font-normal text-[13px] text-soft">{name}</span>
          <span className="pl-2 font-normal text-[13px] text-soft">{group}</span>
        </h2>
        <p>{summary}.</p>
      </header>
      <div className="grid gap-x-8 gap-y-3 xl:grid-cols-2">
        <dl className="grid grid-cols-[auto_1fr] content-start gap-x-4 gap-y-1 text-[13px]">
          {facts.map(([label, text]) => (
            <Fragment key={label}>
              <dt className="text-soft">{label}</dt>
              <dd className="[overflow-wrap:anywhere]">{text}</dd>
            </Fragment>
          ))}
        </dl>
        <ul className="flex flex-col gap-1.5 self-start text-[13px]">
          {lines.map(([label, line]) => (
            <li key={label} className="flex items-center gap-2">
              <span className="w-24 shrink-0 text-soft">{label}</span>
              <code className="min-w-0 flex-1 rounded bg-sunk px-2 py-1 font-mono text-[12px] [overflow-wrap:anywhere]">{line}</code>
              <Button variant="quiet" className="h-7 px-1.5" aria-label={`Copy: ${label.toLowerCase()}`} onClick={() => void copy(line)}>
                <Copy size={14} aria-hidden />
              </Button>
            </li>
          ))}
        </ul>
      </div>
      {markets.length > 0 ? (
        <StudyChart study={study} markets={markets} />
      ) : (
        <p className="text-soft">Import an instrument on Markets, and the study is drawn on its bars here.</p>
      )}
    </article>
  );
}
