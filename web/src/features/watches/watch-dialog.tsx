/** Sets a plan to watch on the practice venue, with the inputs and settings of its draft. */
import type { WatchSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import type { Draft } from "../bench/use-draft.ts";

export interface WatchDialogProps {
  readonly planId: string;
  readonly title: string;
  readonly draft: Draft;
  readonly onClose: () => void;
  readonly onStarted: (id: string) => void;
}

export function WatchDialog({ planId, title, draft, onClose, onStarted }: WatchDialogProps) {
  const [busy, setBusy] = useState(false);
  const client = useQueryClient();
  const { settings } = draft;
  const start = async (): Promise<void> => {
    setBusy(true);
    try {
      const watch = await api.post<WatchSummary>("/watches", { planId, source: draft.source, inputs: draft.inputs, settings });
      await client.invalidateQueries({ queryKey: ["watches"], exact: true });
      onStarted(watch.id);
    } catch (error) {
      toast.error(messageOf(error));
      setBusy(false);
    }
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
        The same program runs unchanged. Orders are filled by the rules of the backtest, and stay at the venue with their stop and target
        should this server stop.
      </p>
      <div className="flex justify-end gap-2 pt-4">
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="primary" disabled={busy} onClick={() => void start()}>
          Start watching
        </Button>
      </div>
    </Modal>
  );
}
