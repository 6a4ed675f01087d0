/** What a plan says: its program in the editor, or the rule sheet that writes it. */
import { hasSheet, type Market, withoutSheet } from "@plan-tester/contract";
import { Tabs } from "radix-ui";
import { Component, lazy, type ReactNode, Suspense, useEffect, useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { Button } from "../../ui/button.tsx";
import { Loading } from "../../ui/states.tsx";
import { tabClass } from "../../ui/tab.ts";
import type { DraftState } from "../drafts/use-draft.ts";
import { Editor, type EditorProps } from "./editor.tsx";
import { ProgramReading } from "./program-reading.tsx";
import type { Reveal } from "./use-reveal.ts";

const SheetEditor = lazy(async () => ({ default: (await import("../sheet/sheet-editor.tsx")).SheetEditor }));

export interface PlanTextProps
  extends Pick<DraftState, "draft" | "edition" | "change" | "type">,
    Pick<EditorProps, "problem" | "marks" | "onRun" | "onLineTrades"> {
  readonly planId: string;
  readonly markets: readonly Market[];
  readonly reveal: Reveal | null;
  /** A line of the program is to be shown. */
  readonly onLine: (line: number) => void;
}

/** The editor, which keeps its place and its undo while the program is read in words. */
function Program({ draft, edition, type, reveal, onLine, ...editor }: Omit<PlanTextProps, "planId" | "change" | "markets">) {
  const [tab, setTab] = useState("source");
  const isRead = tab === "words";
  // A line that evidence points at is one of the source.
  useEffect(() => {
    if (reveal) setTab("source");
  }, [reveal]);
  useCommands([
    { id: "read-program", label: isRead ? "Show the source" : "Read this plan in words", act: () => setTab(isRead ? "source" : "words") },
  ]);
  return (
    <Tabs.Root value={tab} onValueChange={setTab} className="flex h-full min-h-0 flex-col">
      <Tabs.List aria-label="The plan" className="flex gap-1 border-rule border-b bg-sheet px-2 py-0.5 text-[13px]">
        <Tabs.Trigger value="source" className={tabClass}>
          Source
        </Tabs.Trigger>
        <Tabs.Trigger value="words" className={tabClass}>
          In words
        </Tabs.Trigger>
      </Tabs.List>
      <Tabs.Content value="source" forceMount className="min-h-0 flex-1 data-[state=inactive]:hidden">
        <Editor {...editor} value={draft.source} edition={edition} reveal={reveal} onChange={type} />
      </Tabs.Content>
      <Tabs.Content value="words" className="min-h-0 flex-1">
        <ProgramReading source={draft.source} onLine={onLine} />
      </Tabs.Content>
    </Tabs.Root>
  );
}

export function PlanText({ planId, draft, edition, change, type, markets, reveal, onLine, ...editor }: PlanTextProps) {
  const createVersion = useChange("createVersion");
  /** The sheet is kept as a version first: one can return to it. */
  const goOnInCode = async (): Promise<void> => {
    const { source, inputs, settings } = draft;
    const kept = await createVersion.run({ id: planId }, { source, inputs, settings, name: "Rule sheet" });
    if (kept) change({ source: withoutSheet(source) });
  };
  if (!hasSheet(draft.source)) return <Program {...{ draft, edition, type, reveal, onLine }} {...editor} />;
  return (
    <Readable onCode={() => void goOnInCode()}>
      <Suspense fallback={<Loading what="the rule sheet" />}>
        <SheetEditor
          {...{ draft, markets, reveal }}
          onChange={change}
          onCode={() => void goOnInCode()}
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
