/** A whole history as a picture: days from left to right, the minutes of a session from top to bottom, what is missing or doubtful marked. */
import { CLOSED, DOUBTS, MINUTE_MS } from "@plan-tester/core";
import { type MouseEvent, useLayoutEffect, useMemo, useRef, useState } from "react";
import { clockAt, dateWords } from "../../lib/format.ts";
import { readTokens, type Tokens, useTheme } from "../../lib/theme.ts";
import { useWidth } from "../../lib/use-width.ts";
import type { Coverage } from "./quality.ts";

/** A doubtful cell is never smaller than this. */
const LEAST_MARK = 4;
const HEIGHT = 240;

interface CoverageMapProps {
  readonly coverage: Coverage;
  /** Opens the chart at a time. */
  readonly onOpen: (timeMs: number) => void;
}

/** The number of the cell under a point of the picture, row by row. */
function cellAt({ dates, cells }: Coverage, width: number, x: number, y: number): number {
  const within = (value: number, most: number): number => Math.max(0, Math.min(most - 1, Math.floor(value)));
  return within((x / width) * dates.length, dates.length) * cells + within((y / HEIGHT) * cells, cells);
}

function labelOf({ dates, present, doubt }: Coverage): string {
  const missing = present.filter((share) => share !== CLOSED && share < 100).length;
  const doubtful = doubt.filter((code) => code > 0).length;
  return `Coverage of ${dates.length} sessions: ${missing} stretches with missing bars, ${doubtful} that are doubtful. The list below has them.`;
}

function paint(ctx: CanvasRenderingContext2D, { dates, cells, present, doubt }: Coverage, width: number, tokens: Tokens): void {
  const [wide, high] = [width / dates.length, HEIGHT / cells];
  ctx.fillStyle = tokens.sunk;
  ctx.fillRect(0, 0, width, HEIGHT);
  for (let row = 0; row < dates.length; row++)
    for (let cell = 0; cell < cells; cell++) {
      const share = present[row * cells + cell]!;
      if (share === CLOSED) continue;
      ctx.globalAlpha = 1;
      ctx.fillStyle = tokens.sheet;
      ctx.fillRect(row * wide, cell * high, Math.ceil(wide), Math.ceil(high));
      ctx.globalAlpha = (0.4 * share) / 100;
      ctx.fillStyle = tokens.accent;
      ctx.fillRect(row * wide, cell * high, Math.ceil(wide), Math.ceil(high));
    }
  ctx.globalAlpha = 1;
  for (let row = 0; row < dates.length; row++)
    for (let cell = 0; cell < cells; cell++) {
      const code = doubt[row * cells + cell]!;
      if (code === 0) continue;
      ctx.fillStyle = tokens.loss;
      const [w, h] = [Math.max(LEAST_MARK, wide), Math.max(LEAST_MARK, high)];
      // A hole is as large as it is; a single bar has to be seen.
      if (DOUBTS[code - 1] === "gap") ctx.fillRect(row * wide, cell * high, Math.max(2, wide), Math.ceil(high));
      else ctx.fillRect((row + 0.5) * wide - w / 2, (cell + 0.5) * high - h / 2, w, h);
    }
}

/** Where the years and months begin, as parts of the width. */
function marksOf(dates: readonly string[]): { readonly at: number; readonly label: string }[] {
  const months = dates.flatMap((date, row) =>
    row > 0 && date.slice(0, 7) !== dates[row - 1]!.slice(0, 7) ? [{ date, at: row / dates.length }] : [],
  );
  const every = Math.max(1, Math.ceil(months.length / 12));
  // The last may have no room for its words.
  return months
    .filter(({ at }, k) => k % every === 0 && at < 0.94)
    .map(({ date, at }) => ({ at, label: dateWords(date).replace(/^\d+ /, "") }));
}

/** Whole hours after the open, for at most six labels. */
function hoursOf(minutes: number): number[] {
  const every = 60 * Math.ceil(minutes / 60 / 5);
  return Array.from({ length: Math.floor(minutes / every) + 1 }, (_none, k) => k * every);
}

export function CoverageMap({ coverage, onOpen }: CoverageMapProps) {
  const { dates, openMs, cells, cellMinutes, zone } = coverage;
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const width = Math.floor(useWidth(box, 0));
  const [at, setAt] = useState<number | null>(null);
  const theme = useTheme();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme decides what the tokens are
  useLayoutEffect(() => {
    const element = canvas.current!;
    if (width === 0) return;
    const ratio = devicePixelRatio;
    element.width = width * ratio;
    element.height = HEIGHT * ratio;
    const ctx = element.getContext("2d")!;
    ctx.scale(ratio, ratio);
    paint(ctx, coverage, width, readTokens());
  }, [coverage, width, theme]);
  const marks = useMemo(() => marksOf(dates), [dates]);
  const label = useMemo(() => labelOf(coverage), [coverage]);
  const timeOf = (at: number): number => openMs[Math.floor(at / cells)]! + (at % cells) * cellMinutes * MINUTE_MS;
  const point = (event: MouseEvent): number => {
    const { left, top } = canvas.current!.getBoundingClientRect();
    return cellAt(coverage, width, event.clientX - left, event.clientY - top);
  };
  return (
    <div className="flex flex-col gap-1">
      <p className="h-5 text-[13px]" aria-live="off">
        {at !== null ? (
          <Readout coverage={coverage} at={at} />
        ) : (
          <span className="text-soft">Days from left to right, a session from top to bottom. A click opens the chart there.</span>
        )}
      </p>
      <div className="flex gap-2">
        <div className="relative w-10 shrink-0 text-right text-[11px] text-soft" style={{ height: HEIGHT }}>
          {hoursOf(cells * cellMinutes).map((minutes) => (
            <span key={minutes} className="absolute right-0 -translate-y-1/2" style={{ top: (minutes / cells / cellMinutes) * HEIGHT }}>
              {clockAt(openMs.at(-1)! + minutes * MINUTE_MS, zone)}
            </span>
          ))}
        </div>
        <div ref={box} className="min-w-0 flex-1">
          <canvas
            ref={canvas}
            role="img"
            aria-label={label}
            className="block cursor-crosshair border border-rule"
            style={{ width, height: HEIGHT }}
            onPointerMove={(event) => setAt(point(event))}
            onPointerLeave={() => setAt(null)}
            onClick={(event) => onOpen(timeOf(point(event)))}
          />
          <div className="relative h-4 text-[11px] text-soft">
            {marks.map(({ at: part, label }) => (
              <span key={part} className="absolute whitespace-nowrap border-rule border-l pl-1" style={{ left: `${100 * part}%` }}>
                {label}
              </span>
            ))}
          </div>
        </div>
      </div>
    </div>
  );
}

/** What stands in a cell, in words. */
function Readout({ coverage, at }: { readonly coverage: Coverage; readonly at: number }) {
  const { dates, openMs, cells, cellMinutes, present, doubt, zone } = coverage;
  const row = Math.floor(at / cells);
  const from = openMs[row]! + (at % cells) * cellMinutes * MINUTE_MS;
  const [share, code] = [present[at]!, doubt[at]!];
  return (
    <>
      {dateWords(dates[row]!)}, {clockAt(from, zone)} to {clockAt(from + cellMinutes * MINUTE_MS, zone)}:{" "}
      {share === CLOSED ? "closed" : share === 100 ? "every bar is there" : `${share} % of the bars are there`}
      {code > 0 ? <strong className="text-loss"> · {DOUBTS[code - 1]}</strong> : null}
    </>
  );
}
