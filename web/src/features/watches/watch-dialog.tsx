/** Sets a plan to watch on the practice venue, with the inputs and settings of its draft. */
import { timeframeLabel } from "@plan-tester/core";
import { useChange } from "../../data/use-change.ts";
import { number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import type { Draft } from "../drafts/use-draft.ts";

export interface WatchDialogProps {
  readonly planId: string;
  readonly title: string;
  readonly draft: Draft;
  readonly onClose: () => void;
  readonly onStarted: (id: string) => void;
}

/** Events that a backtest tells a plan of, and a watch does not. */
const SILENT_EVENTS = ["start", "price", "accepted", "opened", "end"] as const;
const silentIn = (source: string): readonly string[] => SILENT_EVENTS.filter((name) => new RegExp(`\\bon\\.${name}\\b`).test(source));

export function WatchDialog({ planId, title, draft, onClose, onStarted }: WatchDialogProps) {
  const createWatch = useChange("createWatch");
  const { source, inputs, settings } = draft;
  const silent = silentIn(source);
  const start = async (): Promise<void> => {
    const started = await createWatch.run({}, { planId, source, inputs, settings });
    if (started) onStarted(started.reply.id);
  };
  return (
    <Modal
      title={`Watch ${title}`}
      description="The plan goes to work on the practice venue: a simulated exchange that carries the market on past the end of the history."
      onClose={onClose}
    >
      <p>
        On <strong>{settings.symbol}</strong> in <strong>{timeframeLabel(settings.timeframe)}</strong> bars with{" "}
        <strong>{number(settings.cash)}</strong> crowns of practice money. It sends its own orders; nothing is asked first.
      </p>
      <p className="mt-2 text-soft">
        Orders are filled by the rules of the backtest, and stay at the venue with their stop and target should this server stop.
      </p>
      {silent.length > 0 ? (
        <p role="alert" className="mt-2 border-warn border-l-3 bg-warn-wash px-2 py-1 text-warn">
          On a watch {silent.map((name) => `on.${name}`).join(", ")} {silent.length === 1 ? "does" : "do"} not act yet: what this plan does
          there, such as setting a stop, is not done.
        </p>
      ) : null}
      <div className="flex justify-end gap-2 pt-4">
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="primary" disabled={createWatch.isRunning} onClick={() => void start()}>
          Start watching
        </Button>
      </div>
    </Modal>
  );
}
