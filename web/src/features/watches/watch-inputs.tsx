/** The inputs that a watch runs with; others are taken now, or when nothing is open. */
import type { WatchDetail } from "@plan-tester/contract";
import type { InputValues } from "@plan-tester/core";
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Loading } from "../../ui/states.tsx";
import { InputsForm } from "../inputs/inputs-form.tsx";
import { useDescription } from "../inputs/use-description.ts";

export function WatchInputs({ watch, onClose }: { readonly watch: WatchDetail; readonly onClose: () => void }) {
  const { id, source, inputs, positions, state } = watch;
  const { description } = useDescription(source);
  const [values, setValues] = useState<InputValues>(inputs);
  const changeWatchPlan = useChange("changeWatchPlan");
  const isActive = state !== "ended";
  const isChanged = JSON.stringify(values) !== JSON.stringify(inputs);
  const send = async (when: "now" | "when flat"): Promise<void> => {
    if (await changeWatchPlan.run({ id }, { inputs: values, when })) onClose();
  };
  return (
    <Modal
      title={`Inputs of ${watch.name}`}
      {...(isActive ? { description: "Other inputs start the plan's memory anew; its position and orders are handed over." } : {})}
      onClose={onClose}
    >
      {description ? (
        <InputsForm specs={description.inputs} values={values} readOnly={!isActive} onChange={setValues} />
      ) : (
        <Loading what="the inputs" />
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>{isActive ? "Cancel" : "Close"}</Button>
        {isActive && positions.length > 0 ? (
          <Button disabled={!isChanged || changeWatchPlan.isRunning} onClick={() => void send("when flat")}>
            Take them when nothing is open
          </Button>
        ) : null}
        {isActive ? (
          <Button variant="primary" disabled={!isChanged || changeWatchPlan.isRunning} onClick={() => void send("now")}>
            Take them now
          </Button>
        ) : null}
      </div>
    </Modal>
  );
}
