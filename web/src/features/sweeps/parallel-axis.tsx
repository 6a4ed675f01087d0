/** One axis of the parallel view: a drag along it keeps what lies within, a click takes that away. */
import { type PointerEvent, useRef } from "react";

export interface Axis {
  readonly id: string;
  readonly label: string;
  readonly low: number;
  readonly high: number;
  /** Whether only whole places have a meaning: the values of an input. */
  readonly isStepped: boolean;
  readonly of: (variant: number) => number;
  readonly text: (value: number) => string;
}

export type Bounds = readonly [from: number, to: number];

/** From where to where axes reach, in pixels. */
export interface Reach {
  readonly top: number;
  readonly bottom: number;
}

const GRIP = 14;
/** A shorter drag is a click. */
const LEAST_DRAG = 4;

export const placeOn = ({ low, high }: Axis, { top, bottom }: Reach, value: number): number =>
  bottom - ((value - low) / (high - low || 1)) * (bottom - top);

/** The value at a place, within the axis. */
export function valueOn({ low, high, isStepped }: Axis, { top, bottom }: Reach, y: number): number {
  const value = low + (Math.max(0, Math.min(bottom - top, bottom - y)) / (bottom - top)) * (high - low);
  return isStepped ? Math.round(value) : value;
}

export interface ParallelAxisProps {
  readonly axis: Axis;
  readonly x: number;
  readonly reach: Reach;
  readonly bounds: Bounds | undefined;
  readonly onBounds: (bounds: Bounds | null) => void;
}

export function ParallelAxis({ axis, x, reach, bounds, onBounds }: ParallelAxisProps) {
  const start = useRef<number | null>(null);
  const yOf = (event: PointerEvent<SVGElement>): number => event.clientY - event.currentTarget.ownerSVGElement!.getBoundingClientRect().top;
  const { top, bottom } = reach;
  return (
    <g>
      <line x1={x} x2={x} y1={top} y2={bottom} className="stroke-ink" />
      {bounds ? (
        <rect
          x={x - 5}
          width={10}
          y={placeOn(axis, reach, bounds[1]) - 1}
          height={placeOn(axis, reach, bounds[0]) - placeOn(axis, reach, bounds[1]) + 2}
          className="fill-accent"
          opacity={0.35}
        />
      ) : null}
      <text x={x} y={top - 22} textAnchor="middle" className="fill-ink font-semibold text-[12px]">
        {axis.label}
      </text>
      <text x={x} y={top - 7} textAnchor="middle" className="fill-soft text-[12px]">
        {axis.text(axis.high)}
      </text>
      <text x={x} y={bottom + 16} textAnchor="middle" className="fill-soft text-[12px]">
        {axis.text(axis.low)}
      </text>
      <rect
        data-axis={axis.id}
        x={x - GRIP}
        width={2 * GRIP}
        y={top - 4}
        height={bottom - top + 8}
        fill="transparent"
        className="cursor-ns-resize touch-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          start.current = yOf(event);
        }}
        onPointerMove={(event) => {
          if (start.current === null || Math.abs(yOf(event) - start.current) < LEAST_DRAG) return;
          const [a, b] = [valueOn(axis, reach, start.current), valueOn(axis, reach, yOf(event))];
          onBounds(a < b ? [a, b] : [b, a]);
        }}
        onPointerUp={(event) => {
          if (start.current !== null && Math.abs(yOf(event) - start.current) < LEAST_DRAG) onBounds(null);
          start.current = null;
        }}
        onPointerCancel={() => {
          start.current = null;
        }}
      >
        <title>{axis.label}: drag to keep what lies within, click to take that away</title>
      </rect>
    </g>
  );
}
