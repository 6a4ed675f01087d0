/** What is done with a size that was found: tried at once, kept as a variant of the plan, set to watch. */
import { type RunEvidence, withUnits } from "@plan-tester/contract";
import { EMPTY_KIT, type ExitKit, type Size } from "@plan-tester/core";
import { useState } from "react";
import { toast } from "sonner";
import { useChange } from "../../data/use-change.ts";
import { units } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import { startOf } from "../watches/watch-starts.ts";

export interface SizeActsProps {
  readonly run: RunEvidence;
  /** Units of each entry. */
  readonly size: number;
  /** The same as one that follows the balance. */
  readonly growing: Size;
  readonly tolerated: number;
  /** Runs the plan again with entries of a size; undefined where the run is not the draft's. */
  readonly onSize: ((size: Size) => void) | undefined;
}

/** A kit with a size, beside whatever it is otherwise. */
export const withSize = (kit: ExitKit | null, size: Size): ExitKit => ({ ...(kit ?? { ...EMPTY_KIT, name: "Sized" }), size });

export function SizeActs({ run, size, growing, tolerated, onSize }: SizeActsProps) {
  const createVariant = useChange("createVariant");
  const [isWatching, setWatching] = useState(false);
  const words = `${units(size)} ${size === 1 ? "unit" : "units"}`;
  const keep = async (kind: Size, name: string): Promise<void> => {
    const { planId: id, inputs, settings } = run;
    const kept = await createVariant.run({ id }, { name, inputs, kit: withSize(settings.kit, kind), market: null });
    if (kept) toast(`“${name}” is a variant of the plan now`);
  };
  return (
    <div className="flex flex-wrap gap-2">
      {onSize ? (
        <>
          <Button variant="primary" onClick={() => onSize(growing)}>
            Try it, growing with the balance
          </Button>
          <Button onClick={() => onSize({ by: "units", value: size })}>Try it with {words} each</Button>
        </>
      ) : null}
      <Button
        disabled={createVariant.isRunning}
        onClick={() => void keep({ by: "units", value: size }, `${words}, ${tolerated} % tolerated`)}
      >
        Save as a variant
      </Button>
      <Button onClick={() => setWatching(true)}>Watch it at that size …</Button>
      {isWatching ? (
        <WatchDialog
          title={run.title}
          starts={[{ ...startOf(run), settings: withUnits(run.settings, size) }]}
          chosenFirst={1}
          onClose={() => setWatching(false)}
        />
      ) : null}
    </div>
  );
}
