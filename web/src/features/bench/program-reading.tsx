/** A program read back: when it enters, with what order, size and exits, and when it leaves, each with its line. */
import type { ProgramAct } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { useSettled } from "../../lib/use-settled.ts";
import { Empty, Failure, Loading } from "../../ui/states.tsx";

const KINDS: Readonly<Record<ProgramAct["kind"], string>> = {
  entry: "Enters",
  exit: "Leaves",
  change: "Changes what is open or works",
  alert: "Tells",
};

/** What is quoted stands in the letters of code. */
function Words({ text }: { readonly text: string }) {
  return text.split(/(`[^`]*`)/).map((part, i) =>
    part.startsWith("`") ? (
      // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place in the text
      <code key={i} className="font-mono text-[12px]">
        {part.slice(1, -1)}
      </code>
    ) : (
      part
    ),
  );
}

export function ProgramReading({ source, onLine }: { readonly source: string; readonly onLine: (line: number) => void }) {
  const { data, error } = useQuery(queries.reading(useSettled(source)));
  if (error && !data) return <Failure error={error} />;
  if (!data) return <Loading what="the program" />;
  if (data.acts.length === 0) return <Empty title="It does nothing yet">No order and no alert was found in it.</Empty>;
  return (
    <div className="h-full overflow-auto bg-sheet px-4 py-3 leading-6">
      {error ? <p className="text-loss">As it was: {messageOf(error)}</p> : null}
      {(Object.keys(KINDS) as ProgramAct["kind"][]).map((kind) => {
        const acts = data.acts.filter((act) => act.kind === kind);
        return acts.length === 0 ? null : (
          <section key={kind} aria-label={KINDS[kind]} className="mb-3">
            <h2 className="font-semibold text-[13px] text-soft">{KINDS[kind]}</h2>
            <ul>
              {acts.map((act) => (
                <li key={`${act.line} ${act.what} ${act.when}`} className="flex gap-3 border-rule border-b py-1">
                  <button
                    type="button"
                    className="h-6 w-16 shrink-0 whitespace-nowrap text-left font-mono text-[12px] text-soft underline decoration-dotted hover:text-accent"
                    onClick={() => onLine(act.line)}
                  >
                    line {act.line}
                  </button>
                  <p className="min-w-0">
                    <Words text={act.what} />
                    {act.when ? (
                      <>
                        <span className="text-soft"> when </span>
                        <Words text={act.when} />
                      </>
                    ) : null}
                    .
                  </p>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
