/** A rule as a sentence whose words are its controls, with when it holds, and what can be done with it. */
import type { ConditionEvidence, Market } from "@plan-tester/contract";
import { isMoment, type Piece, rowPieces, type SheetRow, type SlotKind } from "@plan-tester/core";
import { GripVertical, MoreHorizontal } from "lucide-react";
import { Fragment, type ReactNode } from "react";
import { cx } from "../../ui/cx.ts";
import { Menu, type MenuItem } from "../../ui/menu.tsx";
import { Word } from "../../ui/word.tsx";
import { RowEarnings } from "../rules/earned.tsx";
import { HoldingStrip } from "./holding-strip.tsx";
import { SlotChoice } from "./slot-choice.tsx";

export interface SheetRowViewProps {
  readonly row: SheetRow;
  readonly markets: readonly Market[];
  readonly evidence: ConditionEvidence | undefined;
  readonly bars: number;
  /** Made of the long side: its words are not to be changed here. */
  readonly isMirrored: boolean;
  readonly isShown: boolean;
  readonly items: readonly MenuItem[];
  /** What drags it; none where it can't be moved. */
  readonly handle: Readonly<Record<string, unknown>> | null;
  readonly onChange: (row: SheetRow) => void;
}

const SLOT_LABELS: Readonly<Record<SlotKind, string>> = {
  value: "Value",
  number: "Number",
  whole: "Bars",
  output: "Column of the study",
  relation: "Relation",
  ends: "Bounds",
  way: "Way",
  where: "Bars that it is read from",
  time: "Time",
  weekdays: "Weekdays",
  math: "Arithmetic",
};

const NO_SPACE_AHEAD = /^[),]/;

function spaced(pieces: readonly Piece[], show: (piece: Piece, i: number) => ReactNode): ReactNode[] {
  return pieces.map((piece, i) => {
    const before = pieces[i - 1]?.text ?? "";
    const isJoined = i === 0 || before.endsWith("(") || NO_SPACE_AHEAD.test(piece.text);
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: a word is known by its place in the sentence
      <Fragment key={i}>
        {isJoined ? "" : " "}
        {show(piece, i)}
      </Fragment>
    );
  });
}

export function SheetRowView({ row, markets, evidence, bars, isMirrored, isShown, items, handle, onChange }: SheetRowViewProps) {
  const moment = isMoment(row);
  return (
    <div
      data-row={row.id}
      className={cx("group flex gap-1.5 rounded px-1 py-1", row.isOff && "opacity-55", isShown && "bg-accent-wash outline outline-accent")}
    >
      {handle ? (
        <button type="button" className="mt-0.5 h-5 cursor-grab text-rule hover:text-soft" aria-label="Move this rule" {...handle}>
          <GripVertical size={14} aria-hidden />
        </button>
      ) : (
        <span className="w-3.5" />
      )}
      <span
        className={cx("mt-1.5 size-2.5 shrink-0", moment ? "rotate-45 bg-accent" : "rounded-xs border border-accent")}
        title={moment ? "A moment: true on one bar" : "A state: true while it holds"}
        role="img"
        aria-label={moment ? "moment" : "state"}
      />
      <div className="min-w-0 flex-1">
        {row.name || row.comment ? (
          <p className="text-[12px] text-soft">
            {row.name ? <span className="font-semibold text-ink">{row.name}</span> : null}
            {row.name && row.comment ? ": " : ""}
            {row.comment}
          </p>
        ) : null}
        <p className={cx("leading-6", row.isOff && "line-through")}>
          {spaced(rowPieces(row), ({ text, slot }) =>
            slot ? (
              <Word label={SLOT_LABELS[slot.kind]} text={text} readOnly={isMirrored} isMoment={slot.kind === "relation" && moment}>
                {(close) => <SlotChoice {...{ row, slot, markets, onChange }} onClose={close} />}
              </Word>
            ) : (
              text
            ),
          )}
        </p>
        {row.isOff ? (
          <p className="text-[12px] text-soft">switched off</p>
        ) : evidence ? (
          <HoldingStrip evidence={evidence} bars={bars} />
        ) : null}
        {row.isOff ? null : <RowEarnings rowId={row.id} />}
      </div>
      <Menu
        trigger={
          <button
            type="button"
            className="h-6 rounded px-1 text-soft hover:bg-sunk hover:text-ink"
            aria-label="What can be done with this rule"
          >
            <MoreHorizontal size={16} aria-hidden />
          </button>
        }
        items={items}
      />
    </div>
  );
}
