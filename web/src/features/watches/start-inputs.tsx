/** The inputs that a watch will run with: said, and changed where one wants. */
import { useState } from "react";
import { Button } from "../../ui/button.tsx";
import { Loading } from "../../ui/states.tsx";
import { InputsForm } from "../inputs/inputs-form.tsx";
import { useDescription } from "../inputs/use-description.ts";
import { inputWords, type WatchStart } from "./watch-starts.ts";

export interface StartInputsProps {
  readonly start: WatchStart;
  readonly onChange: (inputs: WatchStart["inputs"]) => void;
}

export function StartInputs({ start, onChange }: StartInputsProps) {
  const { source, inputs } = start;
  const [isOpen, setOpen] = useState(false);
  return (
    <div>
      <p className="flex items-baseline gap-2 text-[13px] text-soft">
        <span>Inputs: {inputWords(inputs) || "as the plan has them"}</span>
        <Button variant="quiet" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Done" : "Change"}
        </Button>
      </p>
      {isOpen ? <OpenInputs {...{ source, inputs, onChange }} /> : null}
    </div>
  );
}

interface OpenInputsProps extends Pick<WatchStart, "source" | "inputs"> {
  readonly onChange: StartInputsProps["onChange"];
}

function OpenInputs({ source, inputs, onChange }: OpenInputsProps) {
  const { description, problem } = useDescription(source);
  if (problem) return <p className="text-loss">{problem.message}</p>;
  if (!description) return <Loading what="the inputs" />;
  return (
    <div className="max-h-56 overflow-auto rounded border border-rule">
      <InputsForm specs={description.inputs} values={inputs} onChange={onChange} />
    </div>
  );
}
