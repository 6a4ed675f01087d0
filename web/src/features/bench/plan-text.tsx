/** What a plan says: its program in the editor, or the rule sheet that writes it. */
import { hasSheet, type Market, withoutSheet } from "@plan-tester/contract";
import { Component, lazy, type ReactNode, Suspense, useState } from "react";
import { useCommands } from "../../lib/commands.ts";
import { Button } from "../../ui/button.tsx";
import { Loading } from "../../ui/states.tsx";
import type { DraftState } from "../drafts/use-draft.ts";
import { Editor, type EditorProps } from "./editor.tsx";
import { ProgramReading } from "./program-reading.tsx";
import type { Reveal } from "./use-reveal.ts";

const SheetEditor = lazy(async () => ({ default: (await import("../sheet/sheet-editor.tsx")).SheetEditor }));

export interface PlanTextProps
  extends Pick<DraftState, "draft" | "edition" | "change" | "type">,
    Pick<EditorProps, "problem" | "marks" | "onRun" | "onLineTrades"> {
  readonly markets: readonly Market[];
  readonly reveal: Reveal | null;
  /** A line of the program is to be shown. */
  readonly onLine: (line: number) => void;
}

/** The editor, which keeps its place and its undo while the program is read in words. */
function Program({ draft, edition, type, reveal, onLine, ...editor }: Omit<PlanTextProps, "change" | "markets">) {
  const [isRead, setRead] = useState(false);
  useCommands([{ id: "read-program", label: isRead ? "Show the source" : "Read this plan in words", act: () => setRead(!isRead) }]);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div role="tablist" aria-label="The plan" className="flex gap-1 border-rule border-b bg-sheet px-2 py-0.5">
        {["Source", "In words"].map((name) => (
          <button
            key={name}
            type="button"
            role="tab"
            aria-selected={isRead === (name === "In words")}
            className="rounded px-2 py-0.5 text-[13px] hover:bg-sunk aria-selected:bg-accent-wash aria-selected:font-semibold"
            onClick={() => setRead(name === "In words")}
          >
            {name}
          </button>
        ))}
      </div>
      <div className={isRead ? "hidden" : "min-h-0 flex-1"}>
        <Editor {...editor} value={draft.source} edition={edition} reveal={reveal} onChange={type} />
      </div>
      {isRead ? (
        <div className="min-h-0 flex-1">
          <ProgramReading
            source={draft.source}
            onLine={(line) => {
              setRead(false);
              onLine(line);
            }}
          />
        </div>
      ) : null}
    </div>
  );
}

export function PlanText({ draft, edition, change, type, markets, reveal, onLine, ...editor }: PlanTextProps) {
  if (!hasSheet(draft.source)) return <Program {...{ draft, edition, type, reveal, onLine }} {...editor} />;
  return (
    <Readable onCode={() => change({ source: withoutSheet(draft.source) })}>
      <Suspense fallback={<Loading what="the rule sheet" />}>
        <SheetEditor
          {...{ draft, markets, reveal }}
          onChange={change}
          onCode={(source) => change({ source })}
          program={(text) => <Editor {...editor} value={text} edition={text} reveal={reveal} readOnly />}
        />
      </Suspense>
    </Readable>
  );
}

/** A sheet that came with a text from elsewhere may be none: its program is there all the same. */
class Readable extends Component<{ readonly onCode: () => void; readonly children: ReactNode }, { readonly problem: string }> {
  override state = { problem: "" };

  static getDerivedStateFromError(error: unknown) {
    return { problem: error instanceof Error ? error.message : String(error) };
  }

  override render() {
    const { problem } = this.state;
    if (problem === "") return this.props.children;
    return (
      <div role="alert" className="flex flex-col items-start gap-2 p-4">
        <p>The rule sheet of this plan can't be read: {problem}. The program that it wrote is there.</p>
        <Button onClick={this.props.onCode}>Go on in code</Button>
      </div>
    );
  }
}
