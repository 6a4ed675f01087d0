/** The parts of a sheet, one under the other: entries and exits of both sides, filters. Rules are dragged from any to any. */
import { DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import type { Market } from "@plan-tester/contract";
import { type RuleSheet, rulesOfSides, type SheetGroup, type SheetPart, type SheetRule } from "@plan-tester/core";
import { useState } from "react";
import type { MenuItem } from "../../ui/menu.tsx";
import {
  addRules,
  changeRule,
  copyToOther,
  groupRule,
  moveRule,
  nudgeRule,
  removeRule,
  ruleOf,
  ungroup,
  withMirror,
  withOwnRule,
} from "./edit-sheet.ts";
import { HoldingStrip } from "./holding-strip.tsx";
import { NameDialog } from "./name-dialog.tsx";
import { JoinWord, SheetGroupView } from "./sheet-group.tsx";
import type { Conditions } from "./use-conditions.ts";

const TITLES: Readonly<Record<SheetPart, { readonly title: string; readonly says: string }>> = {
  longEntry: { title: "Long entry", says: "Buy when" },
  shortEntry: { title: "Short entry", says: "Sell short when" },
  longExit: { title: "Long exit", says: "Close longs when" },
  shortExit: { title: "Short exit", says: "Close shorts when" },
  filters: { title: "Filters", says: "Enter only while" },
};

const ORDER: readonly SheetPart[] = ["longEntry", "longExit", "shortEntry", "shortExit", "filters"];

export interface SheetPartsProps {
  readonly sheet: RuleSheet;
  /** Names of conditions in the written program, by part and row. */
  readonly names: ReadonlyMap<string, string>;
  readonly markets: readonly Market[];
  readonly conditions: Conditions | null;
  readonly shownRow: string | null;
  readonly onChange: (sheet: RuleSheet) => void;
}

export function SheetParts({ sheet, names, markets, conditions, shownRow, onChange }: SheetPartsProps) {
  const [named, setNamed] = useState<SheetRule | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }), useSensor(KeyboardSensor));
  const { short } = rulesOfSides(sheet);
  const isMirrored = sheet.shortMirrorsLong;
  const shown: Readonly<Record<SheetPart, SheetGroup>> = isMirrored
    ? { ...sheet, shortEntry: { ...short.entry, id: sheet.shortEntry.id }, shortExit: { ...short.exit, id: sheet.shortExit.id } }
    : sheet;
  const evidenceOf = (key: string) => conditions?.byName.get(names.get(key) ?? "");

  const drop = ({ active, over }: DragEndEvent): void => {
    const [where, target] = [String(over?.id ?? "").split(" ")[0], String(over?.id ?? "").replace(/^\w+ /, "")];
    if (where === "before") onChange(moveRule(sheet, String(active.id), { before: target }));
    else if (where === "end") onChange(moveRule(sheet, String(active.id), { endOf: target }));
  };
  const itemsOf =
    (part: SheetPart) =>
    (rule: SheetRule): readonly MenuItem[] => {
      const { id } = rule;
      const isOfLong = isMirrored && part.startsWith("short") && !sheet[part].rules.some((own) => own.id === id);
      if (isOfLong)
        return [
          { label: "Numbers and words of its own", act: () => onChange(withOwnRule(sheet, part, id, rule)), isOff: rule.kind === "group" },
        ];
      const standsIn =
        isMirrored && part.startsWith("short") && ruleOf(sheet, id.replace(/^short /, "")) !== null && id.startsWith("short ");
      return [
        { label: "Name and comment …", act: () => setNamed(rule) },
        {
          label: rule.isOff ? "Switch on" : "Switch off",
          act: () => onChange(changeRule(sheet, id, (one) => ({ ...one, isOff: !one.isOff }))),
        },
        ...(rule.kind === "row" ? [heldItem(sheet, rule, onChange), withinItem(sheet, rule, onChange)] : []),
        { label: "Up", keys: "Alt+↑", act: () => onChange(nudgeRule(sheet, id, -1)) },
        { label: "Down", keys: "Alt+↓", act: () => onChange(nudgeRule(sheet, id, 1)) },
        ...(part === "filters" || isMirrored
          ? []
          : [{ label: "Copy to the other side", act: () => onChange(copyToOther(sheet, part, id)) }]),
        ...(rule.kind === "group"
          ? [{ label: "Take its rules out", act: () => onChange(ungroup(sheet, id)) }]
          : [
              { label: "Into a group: any of", act: () => onChange(groupRule(sheet, id, "any")) },
              { label: "Into a group: none of", act: () => onChange(groupRule(sheet, id, "none")) },
            ]),
        ...(standsIn ? [{ label: "As the long side again", act: () => onChange(withOwnRule(sheet, part, id, null)) }] : []),
        { label: "Remove", act: () => onChange(removeRule(sheet, id)) },
      ];
    };

  return (
    <DndContext sensors={sensors} onDragEnd={drop}>
      {ORDER.map((part) => {
        const group = shown[part];
        const { title, says } = TITLES[part];
        const whole = evidenceOf(part);
        const own = new Set(sheet[part].rules.map(({ id }) => id));
        const isOfLong = (id: string): boolean => isMirrored && part.startsWith("short") && !own.has(id);
        return (
          <section key={part} aria-label={title} className="border-rule border-b px-3 py-2">
            <div className="flex flex-wrap items-center gap-x-3 gap-y-0.5">
              <h2 className="font-semibold text-[13px]">{title}</h2>
              <p className="text-[13px] text-soft">
                {says}{" "}
                {group.rules.length > 1 ? (
                  <>
                    <JoinWord
                      group={group}
                      readOnly={isMirrored && part.startsWith("short")}
                      onChange={(of) => onChange(changeRule(sheet, group.id, (rule) => ({ ...rule, of }) as SheetRule))}
                    />{" "}
                    these hold
                  </>
                ) : null}
              </p>
              {part === "shortEntry" ? (
                <label className="flex items-center gap-1.5 text-[13px]">
                  <input
                    type="checkbox"
                    className="size-4 accent-(--accent)"
                    checked={isMirrored}
                    onChange={({ target }) => onChange(withMirror(sheet, target.checked))}
                  />
                  Shorts mirror longs
                </label>
              ) : null}
            </div>
            {whole && group.rules.length > 1 ? (
              <div className="pl-[2.6rem]">
                <HoldingStrip evidence={whole} bars={conditions?.bars ?? 0} label="together" />
              </div>
            ) : null}
            <SheetGroupView
              {...{ group, title, markets, shownRow }}
              bars={conditions?.bars ?? 0}
              evidenceOf={(rowId) => evidenceOf(`${part}:${rowId}`)}
              isMirrored={isOfLong}
              acts={{
                change: (id, change) => onChange(changeRule(sheet, id, change)),
                add: (groupId, rules) => onChange(addRules(sheet, groupId, rules)),
                nudge: (id, by) => onChange(nudgeRule(sheet, id, by)),
                items: itemsOf(part),
              }}
            />
          </section>
        );
      })}
      {named ? (
        <NameDialog
          rule={named}
          onClose={() => setNamed(null)}
          onName={(words) => onChange(changeRule(sheet, named.id, (rule) => ({ ...rule, ...words })))}
        />
      ) : null}
    </DndContext>
  );
}

type OnChange = (sheet: RuleSheet) => void;
type Row = Extract<SheetRule, { kind: "row" }>;

const heldItem = (sheet: RuleSheet, row: Row, onChange: OnChange): MenuItem => ({
  label: row.heldFor === null ? "Has to hold for some bars" : "One bar is enough",
  act: () => onChange(changeRule(sheet, row.id, (rule) => ({ ...rule, heldFor: row.heldFor === null ? 3 : null }) as SheetRule)),
});

const withinItem = (sheet: RuleSheet, row: Row, onChange: OnChange): MenuItem => ({
  label: row.within === null ? "May have held some bars ago" : "Has to hold now",
  act: () => onChange(changeRule(sheet, row.id, (rule) => ({ ...rule, within: row.within === null ? 3 : null }) as SheetRule)),
});
