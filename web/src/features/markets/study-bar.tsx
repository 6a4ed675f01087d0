/** The studies of a chart and a table: what they are, added from the library or by writing, kept as layouts. */
import {
  ALWAYS_OPEN,
  BAR_COLUMNS,
  type BarColumns,
  evaluateText,
  expressionOf,
  makeSeries,
  STUDIES,
  type StudyDefinition,
  splitStudyText,
  timeframeLabel,
} from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Plus, X } from "lucide-react";
import { type ReactNode, useId, useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Select, TextInput } from "../../ui/field.tsx";
import { Menu } from "../../ui/menu.tsx";
import { Popover } from "../../ui/popover.tsx";
import { isFound } from "../studies/study-lines.ts";
import { LayoutName } from "./layout-name.tsx";
import type { StudyColumn } from "./use-study-columns.ts";

const MOST_FOUND = 60;

export interface StudyBarProps {
  readonly columns: readonly StudyColumn[];
  readonly onStudies: (studies: readonly string[]) => void;
  readonly timeframe: string;
  /** Longer ones, on which a study may be read. */
  readonly longer: readonly string[];
}

export function StudyBar({ columns, onStudies, timeframe, longer }: StudyBarProps) {
  const studies = columns.map(({ study }) => study);
  const [isNaming, setNaming] = useState(false);
  const layouts = useQuery(queries.layouts()).data ?? [];
  const forget = useChange("deleteLayout");
  const current = layouts.find((layout) => layout.studies.join("\n") === studies.join("\n"));
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
      {columns.map(({ study, problem, values }) => (
        <span
          key={study}
          className={cx(
            "inline-flex items-center gap-1 rounded bg-sunk px-1.5 py-0.5 font-mono text-[12px]",
            problem !== "" && "text-loss",
            !values && problem === "" && "text-soft",
          )}
        >
          <AddStudy
            initial={study}
            {...{ timeframe, longer }}
            onAdd={(next) => onStudies(studies.map((one) => (one === study ? next[0]! : one)))}
          >
            <button type="button" title={problem || "Change"} className="hover:underline">
              {study}
            </button>
          </AddStudy>
          <button type="button" aria-label={`Remove ${study}`} onClick={() => onStudies(studies.filter((one) => one !== study))}>
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
      <AddStudy initial="" {...{ timeframe, longer }} onAdd={(added) => onStudies([...new Set([...studies, ...added])])}>
        <Button variant="quiet" className="h-7">
          <Plus size={13} aria-hidden /> Study
        </Button>
      </AddStudy>
      {layouts.length > 0 || studies.length > 0 ? (
        <Menu
          trigger={
            <Button variant="quiet" className="h-7">
              {current ? `Layout ${current.name}` : "Layout"}
            </Button>
          }
          items={[
            ...layouts.map(({ name, studies: kept }) => ({ label: name, act: () => onStudies(kept) })),
            ...(studies.length > 0 && !current ? [{ label: "Keep these studies as a layout…", act: () => setNaming(true) }] : []),
            ...(current ? [{ label: `Delete ${current.name}`, act: () => void forget.run({ id: current.id }) }] : []),
          ]}
        />
      ) : null}
      {isNaming ? <LayoutName studies={studies} layouts={layouts} onClose={() => setNaming(false)} /> : null}
      {columns.map(({ study, problem }) =>
        problem === "" ? null : (
          <p key={study} role="alert" className="basis-full text-[13px] text-loss">
            {problem}
          </p>
        ),
      )}
    </div>
  );
}

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

function AddStudy({ initial, timeframe, longer, onAdd, children }: AddStudyProps) {
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

/** What a text is read on to see whether it can be. */
const A_BAR = makeSeries(
  Object.fromEntries(BAR_COLUMNS.map((name) => [name, Float64Array.of(1)])) as unknown as BarColumns,
  "1m",
  ALWAYS_OPEN,
);

/** Why a text is none of a study; null where it is one. */
export function problemOf(text: string): string | null {
  try {
    evaluateText(text, A_BAR);
    return null;
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
}
