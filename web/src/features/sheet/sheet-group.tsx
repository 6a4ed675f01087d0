/** The rules of a group: how they are joined, each of them, and a line in which more are written. Groups stand in groups. */
import { useDraggable, useDroppable } from "@dnd-kit/core";
import type { ConditionEvidence, Market } from "@plan-tester/contract";
import type { SheetGroup, SheetRow, SheetRule } from "@plan-tester/core";
import type { ReactNode } from "react";
import { ChoiceList } from "../../ui/choice-list.tsx";
import { cx } from "../../ui/cx.ts";
import { Menu, type MenuItem } from "../../ui/menu.tsx";
import { Word } from "../../ui/word.tsx";
import { rulesRead } from "./edit-sheet.ts";
import { RuleLine } from "./rule-line.tsx";
import { SheetRowView } from "./sheet-row.tsx";

export interface RuleActs {
  readonly change: (id: string, change: (rule: SheetRule) => SheetRule) => void;
  readonly add: (groupId: string, rules: readonly SheetRule[]) => void;
  readonly nudge: (id: string, by: 1 | -1) => void;
  /** What can be done with a rule of this part. */
  readonly items: (rule: SheetRule) => readonly MenuItem[];
}

export interface SheetGroupViewProps {
  readonly group: SheetGroup;
  readonly title: string;
  readonly markets: readonly Market[];
  readonly bars: number;
  readonly evidenceOf: (rowId: string) => ConditionEvidence | undefined;
  /** Rows that are made of the long side, and can't be changed here. */
  readonly isMirrored: (rowId: string) => boolean;
  readonly shownRow: string | null;
  readonly acts: RuleActs;
}

export const JOINS = { all: "all of", any: "any of", none: "none of" } as const;

export function SheetGroupView(props: SheetGroupViewProps) {
  const { group, title, acts } = props;
  return (
    <div>
      {group.rules.map((rule) => (
        <Movable key={rule.id} id={rule.id} canMove={!props.isMirrored(rule.id)} onNudge={(by) => acts.nudge(rule.id, by)}>
          {(handle) =>
            rule.kind === "row" ? (
              <SheetRowView
                row={rule}
                markets={props.markets}
                evidence={props.evidenceOf(rule.id)}
                bars={props.bars}
                isMirrored={props.isMirrored(rule.id)}
                isShown={props.shownRow === rule.id}
                items={acts.items(rule)}
                handle={handle}
                onChange={(row: SheetRow) => acts.change(rule.id, () => row)}
              />
            ) : (
              <InnerGroup {...props} group={rule} title={`${title}, a group`} handle={handle} />
            )
          }
        </Movable>
      ))}
      <EndOf id={group.id}>
        <RuleLine
          label={`Add a rule: ${title}`}
          hasExample={group.id === "longEntry" && group.rules.length === 0}
          onRules={(read) => acts.add(group.id, rulesRead(read))}
        />
      </EndOf>
    </div>
  );
}

function InnerGroup({ handle, ...props }: SheetGroupViewProps & { readonly handle: Readonly<Record<string, unknown>> | null }) {
  const { group, acts, isMirrored } = props;
  return (
    <div className={cx("my-1 ml-4 border-rule border-l-3 pl-2", group.isOff && "opacity-55")}>
      <div className="flex items-center gap-2 text-[13px]">
        {handle ? (
          <button type="button" className="cursor-grab text-soft" {...handle}>
            Move
          </button>
        ) : null}
        <JoinWord
          group={group}
          readOnly={isMirrored(group.id)}
          onChange={(of) => acts.change(group.id, (rule) => ({ ...rule, of }) as SheetRule)}
        />
        <span className="flex-1 text-soft">{group.isOff ? "switched off" : ""}</span>
        <Menu
          trigger={
            <button type="button" className="rounded px-1.5 text-soft hover:bg-sunk hover:text-ink">
              Group …
            </button>
          }
          items={acts.items(group)}
        />
      </div>
      <SheetGroupView {...props} />
    </div>
  );
}

/** "all of" and its like, as a word that can be changed. */
export function JoinWord({
  group,
  readOnly,
  onChange,
}: {
  readonly group: SheetGroup;
  readonly readOnly: boolean;
  readonly onChange: (of: SheetGroup["of"]) => void;
}) {
  return (
    <Word label="How the rules are joined" text={JOINS[group.of]} readOnly={readOnly}>
      {(close) => (
        <ChoiceList
          label="Of these rules, those that have to hold"
          of={JOINS}
          value={group.of}
          onChoose={(of) => {
            onChange(of);
            close();
          }}
        />
      )}
    </Word>
  );
}

/** A rule that can be dragged, and ahead of which others can be dropped. Alt with the arrows moves it as well. */
function Movable({
  id,
  canMove,
  onNudge,
  children,
}: {
  readonly id: string;
  readonly canMove: boolean;
  readonly onNudge: (by: 1 | -1) => void;
  readonly children: (handle: Readonly<Record<string, unknown>> | null) => ReactNode;
}) {
  const drag = useDraggable({ id, disabled: !canMove });
  const drop = useDroppable({ id: `before ${id}`, disabled: !canMove });
  const { transform } = drag;
  const handle = {
    ...drag.attributes,
    ...drag.listeners,
    onKeyDown: (event: React.KeyboardEvent) => {
      const by = event.altKey ? ({ ArrowDown: 1, ArrowUp: -1 } as const)[event.key as "ArrowDown"] : undefined;
      if (by === undefined) return (drag.listeners?.onKeyDown as ((event: React.KeyboardEvent) => void) | undefined)?.(event);
      event.preventDefault();
      onNudge(by);
    },
    ref: drag.setActivatorNodeRef,
  };
  return (
    <div ref={drop.setNodeRef} className={cx("border-t-2", drop.isOver ? "border-accent" : "border-transparent")}>
      <div
        ref={drag.setNodeRef}
        className={drag.isDragging ? "relative z-30 bg-sheet opacity-80 shadow-(--shadow)" : undefined}
        style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      >
        {children(canMove ? handle : null)}
      </div>
    </div>
  );
}

function EndOf({ id, children }: { readonly id: string; readonly children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: `end ${id}` });
  return (
    <div ref={setNodeRef} className={cx("border-t-2 py-1 pl-6", isOver ? "border-accent" : "border-transparent")}>
      {children}
    </div>
  );
}
