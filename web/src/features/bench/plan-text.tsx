/** What a plan says: its program in the editor, or the rule sheet that writes it. */
import { hasSheet, type Market, withoutSheet } from "@plan-tester/contract";
import { Component, lazy, type ReactNode, Suspense } from "react";
import { Button } from "../../ui/button.tsx";
import { Loading } from "../../ui/states.tsx";
import type { DraftState } from "../drafts/use-draft.ts";
import { Editor, type EditorProps } from "./editor.tsx";
import type { Reveal } from "./use-reveal.ts";

const SheetEditor = lazy(async () => ({ default: (await import("../sheet/sheet-editor.tsx")).SheetEditor }));

export interface PlanTextProps
  extends Pick<DraftState, "draft" | "edition" | "change" | "type">,
    Pick<EditorProps, "problem" | "marks" | "onRun" | "onLineTrades"> {
  readonly markets: readonly Market[];
  readonly reveal: Reveal | null;
}

export function PlanText({ draft, edition, change, type, markets, reveal, ...editor }: PlanTextProps) {
  if (!hasSheet(draft.source)) return <Editor {...editor} value={draft.source} edition={edition} reveal={reveal} onChange={type} />;
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
