/** The studies of a chart and a table: what they are, added from the library or by writing, kept as layouts. */
import { useQuery } from "@tanstack/react-query";
import { Plus, X } from "lucide-react";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Menu } from "../../ui/menu.tsx";
import { AddStudy } from "./add-study.tsx";
import { LayoutName } from "./layout-name.tsx";
import type { StudyColumn } from "./use-study-columns.ts";

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
