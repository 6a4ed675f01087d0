/** A rule sheet in place of a program: its rules and terms, what it says in words, and the program that it writes. */

import type { ConditionsRequest, Market } from "@plan-tester/contract";
import { withoutSheet } from "@plan-tester/contract";
import { readBack, writeProgram } from "@plan-tester/core";
import { Tabs } from "radix-ui";
import { type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import { useCommands } from "../../lib/commands.ts";
import { Button } from "../../ui/button.tsx";
import { Field, inputClass, TextInput } from "../../ui/field.tsx";
import { tabClass } from "../../ui/tab.ts";
import { KitTodayProvider } from "../inputs/kit-today.tsx";
import { SheetParts } from "./sheet-parts.tsx";
import { SheetTerms } from "./sheet-terms.tsx";
import { useConditions } from "./use-conditions.ts";
import { type SheetDraft, useSheet } from "./use-sheet.ts";

export interface SheetEditorProps {
  readonly draft: ConditionsRequest;
  readonly markets: readonly Market[];
  /** A line of the written program that evidence points at; `turn` counts how often it did. */
  readonly reveal: { readonly line: number; readonly turn: number } | null;
  /** The written program, to be looked at. */
  readonly program: (text: string) => ReactNode;
  readonly onChange: (draft: SheetDraft) => void;
  /** The program becomes the plan's; the sheet stays in the versions. */
  readonly onCode: () => void;
}

const TABS = ["Rules", "In words", "Program"] as const;

export function SheetEditor({ draft, markets, reveal, program, onChange, onCode }: SheetEditorProps) {
  const { sheet, change, undo, redo } = useSheet(draft, onChange);
  const { conditions, error } = useConditions(draft);
  const [tab, setTab] = useState<(typeof TABS)[number]>("Rules");
  const written = useMemo(() => writeProgram(sheet), [sheet]);
  /** Inputs that a form, a variant or a sweep has set. */
  const otherwise = Object.entries(draft.inputs).filter(([name, value]) => written.inputs.has(name) && written.inputs.get(name) !== value);
  const [shownRow, setShownRow] = useState<string | null>(null);
  const latest = useRef(written);
  latest.current = written;
  // Each time that a line is pointed at, and not when the sheet is changed after.
  useEffect(() => {
    if (!reveal) return;
    const row = latest.current.rowOfLine.get(reveal.line) ?? null;
    setShownRow(row);
    setTab(row === null ? "Program" : "Rules");
    if (row !== null)
      requestAnimationFrame(() => document.querySelector(`[data-row="${CSS.escape(row)}"]`)?.scrollIntoView({ block: "nearest" }));
  }, [reveal]);
  useCommands([
    ...(undo ? [{ id: "sheet-undo", label: "Undo in the rule sheet", keys: "Ctrl+z", act: undo }] : []),
    ...(redo ? [{ id: "sheet-redo", label: "Redo in the rule sheet", keys: "Ctrl+Shift+z", act: redo }] : []),
    { id: "sheet-code", label: "Go on in code", act: onCode },
  ]);
  return (
    <Tabs.Root
      value={tab}
      onValueChange={(name) => setTab(name as (typeof TABS)[number])}
      className="flex h-full min-h-0 flex-col bg-sheet"
    >
      <div className="flex flex-wrap items-center gap-1 border-rule border-b px-2 py-1">
        <Tabs.List aria-label="Rule sheet" className="flex gap-1 text-[13px]">
          {TABS.map((name) => (
            <Tabs.Trigger key={name} value={name} className={tabClass}>
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <span className="flex-1" />
        <Button variant="quiet" disabled={!undo} onClick={() => undo?.()}>
          Undo
        </Button>
        <Button variant="quiet" disabled={!redo} onClick={() => redo?.()}>
          Redo
        </Button>
        <Button onClick={onCode}>Go on in code</Button>
      </div>
      {otherwise.length > 0 ? (
        <p className="flex flex-wrap items-center gap-x-2 bg-warn-wash px-3 py-1 text-[13px]">
          Set otherwise than the sheet says: {otherwise.map(([name, value]) => `${name} ${value} (${written.inputs.get(name)})`).join(", ")}
          .
          <Button variant="quiet" className="h-6 px-1 text-accent" onClick={() => onChange({ source: draft.source, inputs: {} })}>
            As the sheet says
          </Button>
        </p>
      ) : null}
      {error && tab === "Rules" ? <p className="bg-loss-wash px-3 py-1 text-[13px] text-loss">{error.message}</p> : null}
      <Tabs.Content value="Program" className="min-h-0 flex-1">
        {program(withoutSheet(draft.source))}
      </Tabs.Content>
      <Tabs.Content value="In words" className="min-h-0 flex-1 overflow-auto px-4 py-3 leading-6">
        <h2 className="font-semibold text-[15px]">{sheet.title}</h2>
        {sheet.description ? <p className="text-soft">{sheet.description}</p> : null}
        {readBack(sheet).map(({ heading, sentences }) => (
          <p key={heading} className="mt-2">
            <strong>{heading}.</strong> {sentences.join(" ")}
          </p>
        ))}
      </Tabs.Content>
      <Tabs.Content value="Rules" className="min-h-0 flex-1 overflow-auto text-[14px]">
        <SheetParts {...{ sheet, markets, conditions, shownRow }} names={written.conditions} onChange={change} />
        <section aria-label="Orders and exits" className="border-rule border-b px-3 py-2">
          <h2 className="mb-1 font-semibold text-[13px]">Orders, exits, limits</h2>
          <KitTodayProvider settings={draft.settings} markets={markets}>
            <SheetTerms sheet={sheet} onChange={change} />
          </KitTodayProvider>
        </section>
        <section aria-label="Title and description" className="flex flex-col gap-2 px-3 py-2">
          <Field label="Title">
            {(id) => (
              <TextInput
                id={id}
                value={sheet.title}
                maxLength={200}
                onChange={({ target }) => target.value.trim() !== "" && change({ ...sheet, title: target.value })}
              />
            )}
          </Field>
          <Field label="Description">
            {(id) => (
              <textarea
                id={id}
                className={`${inputClass} h-16 py-1`}
                value={sheet.description}
                maxLength={4000}
                onChange={({ target }) => change({ ...sheet, description: target.value })}
              />
            )}
          </Field>
        </section>
      </Tabs.Content>
    </Tabs.Root>
  );
}
