/** The levels of one side of a kit, each with a handle by which it is dragged, or moved by keys. */
import type { KitHandle, KitLevel } from "@plan-tester/core";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { number, priceText, signed } from "../../lib/format.ts";
import type { KitToday } from "./kit-today.tsx";

export const PICTURE_HEIGHT = 200;
const LINE = 13;
/** Ticks of a step by keys, plain and with Shift. */
const STEPS = { plain: 1, large: 10 } as const;

type Act = (level: KitLevel, handle: KitHandle, price: number) => void;

export interface KitSideProps {
  readonly side: 1 | -1;
  readonly levels: readonly KitLevel[];
  readonly today: KitToday;
  readonly y: (price: number) => number;
  /** Price at a height of the picture, pixels from its top. */
  readonly priceAt: (y: number) => number;
  /** It is under the pointer at this price. */
  readonly onDrag: Act;
  /** It has been let go of as if nothing had been. */
  readonly onCancel: () => void;
  /** It has been taken there. */
  readonly onMove: Act;
}

const labelOf = ({ what, number: of }: KitLevel): string => (of > 0 ? `lock ${of}` : what);
const nameOf = (level: KitLevel, decimals: number): string =>
  `${labelOf(level)}${level.stop === null ? "" : `: stop to ${priceText(level.stop, decimals)}`}`;

/** Texts of lines that lie close are moved apart, in the order of their prices. */
function spreadOut(wanted: readonly number[]): number[] {
  const order = wanted.map((_y, i) => i).sort((a, b) => wanted[a]! - wanted[b]!);
  const placed = [...wanted];
  order.forEach((at, k) => {
    const before = order[k - 1];
    if (before !== undefined) placed[at] = Math.max(placed[at]!, placed[before]! + LINE);
  });
  const over = Math.max(0, Math.max(...placed) - (PICTURE_HEIGHT - 4));
  return placed.map((y) => y - over);
}

export function KitSide({ side, levels, today, y, ...acts }: KitSideProps) {
  const { price: entry, decimals } = today;
  const word = side > 0 ? "long" : "short";
  const lines = [{ key: "entry", price: entry, tone: "text-ink", text: word }].concat(
    levels.map((level) => ({
      key: `${level.what} ${level.number}`,
      price: level.price,
      tone: level.move < 0 ? "text-loss" : "text-gain",
      // Where a stop is moved its own place says enough.
      text: `${nameOf(level, decimals)}${level.stop === null ? ` ${signed(level.money, Math.abs(level.money) < 10 ? 2 : 0)}` : ""}`,
    })),
  );
  const texts = spreadOut(lines.map(({ price }) => y(price)));
  return (
    <div
      role="group"
      aria-label={`${side > 0 ? "Long" : "Short"}: ${lines.map(({ text, price }) => `${text} at ${number(price, decimals)}`).join("; ")}`}
      className="relative touch-none select-none overflow-hidden rounded-sm bg-sunk"
      style={{ height: PICTURE_HEIGHT }}
    >
      {lines.map(({ key, price, tone, text }, i) => (
        <div key={key} className={tone}>
          <span className="absolute left-0 w-8 border-current border-t-2" style={{ top: y(price) }} />
          <span className="absolute right-1 left-10 flex justify-between gap-1 whitespace-nowrap leading-3" style={{ top: texts[i]! - 6 }}>
            <span className="truncate" title={text}>
              {text}
            </span>
            <span className="tabular-nums">{priceText(price, decimals)}</span>
          </span>
        </div>
      ))}
      {levels.flatMap((level) =>
        (["level", "stop"] as const).map((handle) => {
          const price = handle === "level" ? level.price : level.stop;
          return price === null ? null : (
            <Handle
              key={`${level.what} ${level.number} ${handle}`}
              label={`${word}: ${labelOf(level)}${handle === "stop" ? ", its stop" : ""}`}
              isStop={handle === "stop"}
              {...{ price, today, y }}
              priceAt={acts.priceAt}
              onCancel={acts.onCancel}
              onDrag={(to) => acts.onDrag(level, handle, to)}
              onMove={(to) => acts.onMove(level, handle, to)}
            />
          );
        }),
      )}
    </div>
  );
}

interface HandleProps extends Pick<KitSideProps, "today" | "y" | "priceAt" | "onCancel"> {
  readonly label: string;
  /** Of a stop that a profit brings about: further in, so that it lies beside the entry's line. */
  readonly isStop: boolean;
  readonly price: number;
  readonly onDrag: (price: number) => void;
  readonly onMove: (price: number) => void;
}

function Handle({ label, isStop, price, today, y, priceAt, onDrag, onCancel, onMove }: HandleProps) {
  /** Where it is being dragged: not yet, nowhere so far, at this price. */
  const held = useRef<"free" | "held" | number>("free");
  const heightOf = (event: PointerEvent<HTMLElement>): number =>
    Math.min(PICTURE_HEIGHT, Math.max(0, event.clientY - event.currentTarget.parentElement!.getBoundingClientRect().top));
  const drop = (): void => {
    if (typeof held.current === "number") onMove(held.current);
    held.current = "free";
  };
  const cancel = (): void => {
    held.current = "free";
    onCancel();
  };
  const step = (event: KeyboardEvent): void => {
    const direction = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (direction === 0) return;
    event.preventDefault();
    onMove(price + direction * (event.shiftKey ? STEPS.large : STEPS.plain) * today.instrument.tickSize);
  };
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-orientation="vertical"
      aria-valuenow={price}
      aria-valuetext={priceText(price, today.decimals)}
      title={`${label}: ${priceText(price, today.decimals)}`}
      className={`absolute h-3 cursor-ns-resize rounded-sm border border-ink/50 bg-paper/70 ${isStop ? "left-5 w-2 border-dashed" : "left-2 w-2"}`}
      style={{ top: y(price) - 5 }}
      onPointerDown={(event) => {
        held.current = "held";
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (held.current === "free") return;
        held.current = priceAt(heightOf(event));
        onDrag(held.current);
      }}
      onPointerUp={drop}
      onPointerCancel={cancel}
      onKeyDown={step}
    />
  );
}
