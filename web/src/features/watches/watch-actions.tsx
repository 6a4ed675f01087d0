/** What can be asked of a watch: pause, another mode, close what is open, stop, another name, delete. */
import type { RestartWatch, WatchDetail, WatchOptions } from "@plan-tester/contract";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { count, units } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/field.tsx";
import { RenameDialog } from "./rename-dialog.tsx";
import { RestartDialog } from "./restart-dialog.tsx";
import { StopDialog } from "./stop-dialog.tsx";
import { WatchInputs } from "./watch-inputs.tsx";

export const MODES = ["automatic", "ask first", "alerts only"] as const satisfies readonly WatchOptions["mode"][];

function openWords({ positions, workingOrders }: WatchDetail): string {
  const held = positions.map(({ symbol, units: size }) => `${size > 0 ? "long" : "short"} ${units(Math.abs(size))} ${symbol}`);
  const parts = [...held, ...(workingOrders.length > 0 ? [count(workingOrders.length, "working order")] : [])];
  return parts.length > 0 ? `Open now: ${parts.join(", ")}. What becomes of it?` : "Nothing is open.";
}

export function WatchActions({ watch }: { readonly watch: WatchDetail }) {
  const { id, isPaused, options, state, positions, workingOrders } = watch;
  const [dialog, setDialog] = useState<"stop" | "rename" | "inputs" | "restart" | null>(null);
  const changeWatch = useChange("changeWatch");
  const stopWatch = useChange("stopWatch");
  const flattenWatch = useChange("flattenWatch");
  const restartWatch = useChange("restartWatch");
  const deleteWatch = useChange("deleteWatch");
  const openWatch = useChange("openWatch");
  const navigate = useNavigate();
  const isActive = state !== "ended";
  const holds = positions.length + workingOrders.length > 0;
  const pause = (): void => void changeWatch.run({ id }, { isPaused: !isPaused });
  const open = async (): Promise<void> => {
    const opened = await openWatch.run({ id });
    if (opened) void navigate(`/runs/${opened.reply.runId}`);
  };
  useCommands([{ id: "open watch", label: "Open the watch as a run", act: () => void open() }]);
  useCommands(
    isActive
      ? [
          { id: "pause watch", label: isPaused ? "Send entries again" : "Pause the watch: no new entries", keys: "Alt+p", act: pause },
          { id: "stop watch", label: "Stop the watch", keys: "Alt+s", act: () => setDialog("stop") },
        ]
      : [],
  );
  const start = (open: RestartWatch["open"]): void => void restartWatch.run({ id }, { open });
  const remove = async (): Promise<void> => {
    if (await deleteWatch.run({ id })) void navigate("/watches");
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      {isActive ? (
        <>
          <Select
            aria-label="Mode"
            className="w-auto"
            value={options.mode}
            onChange={(event) =>
              void changeWatch.run({ id }, { options: { ...options, mode: event.target.value as WatchOptions["mode"] } })
            }
          >
            {MODES.map((mode) => (
              <option key={mode}>{mode}</option>
            ))}
          </Select>
          <Button onClick={pause} title="Paused it sends no new entries; its exits go on.">
            {isPaused ? "Resume" : "Pause"}
          </Button>
        </>
      ) : null}
      {holds ? (
        <Button onClick={() => void flattenWatch.run({ id })} title="Cancels its orders and closes what is open at the next price.">
          Close position
        </Button>
      ) : null}
      {Object.keys(watch.inputs).length > 0 ? (
        <Button variant="quiet" onClick={() => setDialog("inputs")}>
          Inputs
        </Button>
      ) : null}
      <Button variant="quiet" onClick={() => setDialog("rename")}>
        Rename
      </Button>
      <Button
        variant="quiet"
        disabled={openWatch.isRunning}
        onClick={() => void open()}
        title="Keeps what the watch did as a run, beside the backtest of the same bars."
      >
        Open as run
      </Button>
      {isActive ? (
        <Button variant="danger" onClick={() => setDialog("stop")}>
          Stop…
        </Button>
      ) : null}
      {isActive ? null : <Button onClick={() => (holds ? setDialog("restart") : start("refuse"))}>Start again</Button>}
      {!isActive && !holds ? (
        <Button variant="danger" onClick={() => void remove()}>
          Delete
        </Button>
      ) : null}
      {dialog === "stop" ? (
        <StopDialog
          title={`Stop ${watch.name}`}
          open={openWords(watch)}
          onClose={() => setDialog(null)}
          onStop={(leaving) => {
            setDialog(null);
            void stopWatch.run({ id }, { leaving });
          }}
        />
      ) : null}
      {dialog === "restart" ? (
        <RestartDialog
          name={watch.name}
          open={openWords(watch)}
          onClose={() => setDialog(null)}
          onChoose={(open) => {
            setDialog(null);
            start(open);
          }}
        />
      ) : null}
      {dialog === "inputs" ? <WatchInputs watch={watch} onClose={() => setDialog(null)} /> : null}
      {dialog === "rename" ? (
        <RenameDialog
          name={watch.name}
          onClose={() => setDialog(null)}
          onName={(name) => {
            setDialog(null);
            void changeWatch.run({ id }, { name });
          }}
        />
      ) : null}
    </div>
  );
}
