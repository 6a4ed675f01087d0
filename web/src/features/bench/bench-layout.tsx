/**
 * The Bench's frame, for a plan at work and for a kept run alike: sentence and ribbon above, source beside evidence below. Where
 * there is no room side by side, one below the other, and the page scrolls.
 */
import type { ReactNode } from "react";
import { Group, Panel, Separator, useDefaultLayout } from "react-resizable-panels";
import { remembered } from "../../lib/site-data.ts";
import { useNarrow } from "../../lib/use-narrow.ts";

export interface BenchLayoutProps {
  readonly head: ReactNode;
  readonly sentence: ReactNode;
  readonly action: ReactNode;
  readonly ribbon: ReactNode;
  readonly editor: ReactNode;
  readonly inputs: ReactNode;
  readonly evidence: ReactNode;
}

export function BenchLayout({ head, sentence, action, ribbon, ...panes }: BenchLayoutProps) {
  const isNarrow = useNarrow();
  return (
    <main className={isNarrow ? "min-h-0 flex-1 overflow-auto" : "flex min-h-0 flex-1 flex-col"}>
      <div className="flex min-h-10 flex-wrap items-center gap-x-4 gap-y-1 border-rule border-b px-4 py-1">
        <div className="flex min-w-0 max-w-full shrink-0 items-baseline gap-2">{head}</div>
        <div className="min-w-0 flex-1 basis-100">{sentence}</div>
        <div className="shrink-0">{action}</div>
      </div>
      <div className="border-rule border-b bg-sheet px-4 pt-1.5">{ribbon}</div>
      {isNarrow ? <Stacked {...panes} /> : <SideBySide {...panes} />}
    </main>
  );
}

type Panes = Pick<BenchLayoutProps, "editor" | "inputs" | "evidence">;

function Stacked({ editor, inputs, evidence }: Panes) {
  return (
    <>
      <div className="h-[60vh] min-h-60">{editor}</div>
      <div className="border-rule border-t bg-sheet">{inputs}</div>
      <div className="h-[95vh] min-h-96 border-rule border-t">{evidence}</div>
    </>
  );
}

/** Sizes as the user has left them. */
function SideBySide({ editor, inputs, evidence }: Panes) {
  const across = useDefaultLayout({ id: "bench across", storage: remembered });
  const down = useDefaultLayout({ id: "bench down", storage: remembered });
  return (
    <Group orientation="horizontal" className="min-h-0 flex-1" {...across}>
      <Panel id="plan" defaultSize="40%" minSize="22%">
        <Group orientation="vertical" {...down}>
          <Panel id="source" defaultSize="68%" minSize="20%">
            {editor}
          </Panel>
          <Separator className="h-1 border-rule border-t bg-ground hover:bg-accent-wash" />
          <Panel id="inputs" defaultSize="32%" minSize="10%">
            <div className="h-full overflow-auto bg-sheet">{inputs}</div>
          </Panel>
        </Group>
      </Panel>
      <Separator className="w-1 border-rule border-l bg-ground hover:bg-accent-wash" />
      <Panel id="evidence" defaultSize="60%" minSize="30%">
        {evidence}
      </Panel>
    </Group>
  );
}
