/** Two texts of one plan: it was saved elsewhere since the one on screen was read. One is chosen, and neither is lost. */
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import type { Theirs } from "../drafts/draft-store.ts";
import type { Draft } from "../drafts/use-draft.ts";
import { DiffView } from "../versions/diff-view.tsx";

export interface ConflictDialogProps {
  readonly draft: Draft;
  readonly theirs: Theirs;
  readonly onSettle: (choice: "mine" | "theirs") => void;
  readonly onClose: () => void;
}

export function ConflictDialog({ draft, theirs, onSettle, onClose }: ConflictDialogProps) {
  const settle = (choice: "mine" | "theirs"): void => {
    onSettle(choice);
    onClose();
  };
  const isSameText = draft.source === theirs.source;
  return (
    <Modal
      title="This plan was saved elsewhere"
      description="Another tab, or another window, has saved it since the text here was read. Both texts are kept as versions, whichever you take."
      size="full"
      onClose={onClose}
    >
      <div className="flex h-[68vh] flex-col gap-2">
        <div className="flex flex-wrap items-center gap-2">
          <span className="flex-1 text-[13px] text-soft">
            {isSameText
              ? "The texts are the same; inputs or settings differ."
              : "Left: what was saved elsewhere. Right: the text on this Bench, not saved yet."}
          </span>
          <Button onClick={() => settle("theirs")}>Take what was saved elsewhere</Button>
          <Button variant="primary" onClick={() => settle("mine")}>
            Save the text of this Bench
          </Button>
        </div>
        <DiffView before={theirs.source} after={draft.source} className="min-h-0 flex-1 border border-rule" />
      </div>
    </Modal>
  );
}
