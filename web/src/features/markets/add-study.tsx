/** Adds a study, found in the library or written, or changes one; on the bars that are shown or on longer ones. */
import { expressionOf, STUDIES, type StudyDefinition, splitStudyText, timeframeLabel } from "@plan-tester/core";
import { type ReactNode, useId, useState } from "react";
import { Button } from "../../ui/button.tsx";
import { Select, TextInput } from "../../ui/field.tsx";
import { Popover } from "../../ui/popover.tsx";
import { isFound } from "../studies/study-lines.ts";
import { problemOf } from "./study-problem.ts";

const MOST_FOUND = 60;

/** All columns of a study of the library, as texts. */
const textsOf = (study: StudyDefinition): string[] =>
  study.outputs.length > 1 ? study.outputs.map((output) => expressionOf(study, output)) : [expressionOf(study)];

interface AddStudyProps {
  readonly initial: string;
  readonly timeframe: string;
  readonly longer: readonly string[];
  readonly onAdd: (studies: readonly string[]) => void;
  readonly children: ReactNode;
}

export function AddStudy({ initial, timeframe, longer, onAdd, children }: AddStudyProps) {
  const [isOpen, setOpen] = useState(false);
  const given = splitOf(initial);
  const [text, setText] = useState(given.expression);
  const [on, setOn] = useState(given.timeframe ?? "");
  const [problem, setProblem] = useState("");
  const label = useId();
  const found = STUDIES.filter((study) => initial === "" && isFound(study, text)).slice(0, MOST_FOUND);
  const open = (next: boolean): void => {
    setOpen(next);
    if (!next) return;
    setText(given.expression);
    setOn(given.timeframe ?? "");
    setProblem("");
  };
  const add = (texts: readonly string[]): void => {
    onAdd(texts.map((one) => (on === "" ? one : `${one} on ${on}`)));
    setOpen(false);
  };
  const write = (): void => {
    const [only] = found;
    const wrong = problemOf(text);
    if (wrong === null) add([text.trim()]);
    else if (only && /^\w+$/.test(text.trim())) add(textsOf(only));
    else setProblem(wrong);
  };
  return (
    <Popover trigger={children} label={initial === "" ? "Add a study" : "Change the study"} open={isOpen} onOpen={open} className="w-96">
      <div className="flex flex-col gap-2">
        <label id={label} className="text-soft" htmlFor={`${label} text`}>
          {initial === "" ? "Search the library, or write: ema(close, 20), close > vwap()" : "The study"}
        </label>
        <div className="flex gap-2">
          <TextInput
            id={`${label} text`}
            className="min-w-0 flex-1 font-mono"
            value={text}
            onChange={({ target }) => {
              setText(target.value);
              setProblem("");
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter") write();
            }}
          />
          <Select
            aria-label="On bars of"
            title={`As shown: ${timeframeLabel(timeframe)}`}
            className="w-28"
            value={on}
            onChange={({ target }) => setOn(target.value)}
          >
            <option value="">as shown</option>
            {longer.map((one) => (
              <option key={one} value={one}>
                {timeframeLabel(one)}
              </option>
            ))}
          </Select>
        </div>
        {problem === "" ? null : <p className="text-loss">{problem}</p>}
        <ul className="max-h-64 overflow-auto" aria-label="Studies found">
          {found.map((study) => (
            <li key={study.name}>
              <button type="button" className="block w-full px-1 py-0.5 text-left hover:bg-sunk" onClick={() => add(textsOf(study))}>
                <span className="font-mono text-[12px]">{expressionOf(study)}</span> <span className="text-soft">{study.summary}</span>
              </button>
            </li>
          ))}
        </ul>
        <div className="flex justify-end">
          <Button variant="primary" onClick={write}>
            {initial === "" ? "Add" : "Change"}
          </Button>
        </div>
      </div>
    </Popover>
  );
}

function splitOf(text: string): ReturnType<typeof splitStudyText> {
  try {
    return splitStudyText(text);
  } catch {
    return { expression: text, timeframe: null };
  }
}
