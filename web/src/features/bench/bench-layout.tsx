/** The Bench's frame, for a plan at work and for a kept run alike: sentence and ribbon above, source beside evidence below. */
import type { ReactNode } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";

export interface BenchLayoutProps {
  readonly head: ReactNode;
  readonly sentence: ReactNode;
  readonly action: ReactNode;
  readonly ribbon: ReactNode;
  readonly editor: ReactNode;
  readonly inputs: ReactNode;
  readonly evidence: ReactNode;
}

export function BenchLayout({ head, sentence, action, ribbon, editor, inputs, evidence }: BenchLayoutProps) {
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div className="flex min-h-10 flex-wrap items-center gap-x-4 gap-y-1 border-rule border-b px-4 py-1">
        <div className="flex shrink-0 items-baseline gap-2">{head}</div>
        <div className="min-w-0 flex-1 basis-100">{sentence}</div>
        <div className="shrink-0">{action}</div>
      </div>
      <div className="border-rule border-b bg-sheet px-4 pt-1.5">{ribbon}</div>
      <Group orientation="horizontal" className="min-h-0 flex-1">
        <Panel defaultSize="40%" minSize="22%">
          <Group orientation="vertical">
            <Panel defaultSize="68%" minSize="20%">
              {editor}
            </Panel>
            <Separator className="h-1 border-rule border-t bg-ground hover:bg-accent-wash" />
            <Panel defaultSize="32%" minSize="10%">
              <div className="h-full overflow-auto bg-sheet">{inputs}</div>
            </Panel>
          </Group>
        </Panel>
        <Separator className="w-1 border-rule border-l bg-ground hover:bg-accent-wash" />
        <Panel defaultSize="60%" minSize="30%">
          {evidence}
        </Panel>
      </Group>
    </main>
  );
}
