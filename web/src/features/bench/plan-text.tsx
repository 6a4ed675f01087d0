/** What a plan says: its program in the editor, or the rule sheet that writes it. */
import { hasSheet, type Market } from "@plan-tester/contract";
import { lazy, Suspense } from "react";
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
    <Suspense fallback={<Loading what="the rule sheet" />}>
      <SheetEditor
        {...{ draft, markets, reveal }}
        onChange={change}
        onCode={(source) => change({ source })}
        program={(text) => <Editor {...editor} value={text} edition={text} reveal={reveal} readOnly />}
      />
    </Suspense>
  );
}
