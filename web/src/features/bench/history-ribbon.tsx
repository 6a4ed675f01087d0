/** The whole history as a thumbnail; the chosen stretch is dragged at its ends or as a whole, or moved by keys. */

import type { TrialContext } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from "react";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { dateWords, number, weekdayWords } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { closedBeforeWords } from "../markets/now-words.ts";
import { usedStretches } from "./history-use.tsx";

export interface HistoryRibbonProps {
  readonly symbol: string;
  readonly from: string;
  readonly to: string;
  readonly readOnly?: boolean;
  readonly onChange: (from: string, to: string) => void;
  /** What of the history the plan was tried on, and what is kept unseen. */
  readonly context?: TrialContext | undefined;
  /** A second stretch shown beside the first, e.g. out-of-sample. */
  readonly second?: { readonly from: string; readonly to: string } | null;
}

const WIDTH = 1000;
const HEIGHT = 44;
type Grip = "from" | "to" | "both";

export function HistoryRibbon({ symbol, from, to, readOnly = false, onChange, context, second = null }: HistoryRibbonProps) {
  const { data } = useQuery(queries.history(symbol));
  const calendar = instrumentOf(useMarkets(), symbol)?.calendar;
  const [pointed, setPointed] = useState<number | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<{ grip: Grip; x: number; from: number; to: number } | null>(null);

  const line = useMemo(() => {
    if (!data || data.closes.length < 2) return "";
    const [low, high] = [Math.min(...data.closes), Math.max(...data.closes)];
    return data.closes
      .map(
        (close, i) =>
          `${((i / (data.closes.length - 1)) * WIDTH).toFixed(1)},${(4 + (1 - (close - low) / (high - low || 1)) * (HEIGHT - 12)).toFixed(1)}`,
      )
      .join(" ");
  }, [data]);

  if (!data || data.dates.length < 2) return <div className="h-[58px]" />;
  const { dates } = data;
  const last = dates.length - 1;
  const indexOf = (date: string, end: boolean): number => {
    const found = end ? dates.findLastIndex((candidate) => candidate <= date) : dates.findIndex((candidate) => candidate >= date);
    return found < 0 ? (end ? 0 : last) : found;
  };
  const [a, b] = [indexOf(from, false), indexOf(to, true)];
  const share = (index: number): number => (index / last) * 100;
  const choose = (start: number, end: number): void =>
    onChange(dates[Math.max(0, Math.min(start, last))]!, dates[Math.max(0, Math.min(end, last))]!);

  /** A session, and why the days ahead of it had none. */
  const sessionWords = (index: number): string => {
    const date = dates[index]!;
    const closed = calendar ? closedBeforeWords(calendar, date) : "";
    return `${weekdayWords(date)} ${date.slice(0, 4)}${closed === "" ? "" : ` · before it ${closed}`}`;
  };
  const onPointerDown = (event: PointerEvent): void => {
    if (readOnly) return;
    const { left, width } = box.current!.getBoundingClientRect();
    const at = ((event.clientX - left) / width) * last;
    const near = (last * 7) / width;
    const grip: Grip =
      Math.abs(at - b) <= near ? "to" : Math.abs(at - a) <= near ? "from" : at > a && at < b ? "both" : at < a ? "from" : "to";
    drag.current = { grip, x: event.clientX, from: a, to: b };
    event.currentTarget.setPointerCapture(event.pointerId);
    if (at < a || at > b) move(event.clientX);
  };
  const move = (clientX: number): void => {
    const start = drag.current;
    if (!start) return;
    const { left, width } = box.current!.getBoundingClientRect();
    const at = Math.round(((clientX - left) / width) * last);
    if (start.grip === "from") choose(Math.min(at, start.to - 1), start.to);
    else if (start.grip === "to") choose(start.from, Math.max(at, start.from + 1));
    else {
      const shift = Math.round(((clientX - start.x) / width) * last);
      const held = Math.max(-start.from, Math.min(shift, last - start.to));
      choose(start.from + held, start.to + held);
    }
  };
  const onKeyDown = (grip: "from" | "to") => (event: KeyboardEvent) => {
    const step = event.shiftKey ? 21 : 1;
    const by = event.key === "ArrowLeft" ? -step : event.key === "ArrowRight" ? step : 0;
    if (by === 0 || readOnly) return;
    event.preventDefault();
    if (grip === "from") choose(Math.min(a + by, b - 1), b);
    else choose(a, Math.max(b + by, a + 1));
  };

  const years = dates.flatMap((date, i) =>
    i === 0 || date.slice(0, 4) !== dates[i - 1]!.slice(0, 4) ? [{ year: date.slice(0, 4), at: share(i) }] : [],
  );
  return (
    <div
      ref={box}
      className="keeps-colours relative h-[58px] cursor-pointer touch-none select-none"
      onPointerDown={onPointerDown}
      onPointerMove={(event) => {
        move(event.clientX);
        const { left, width } = box.current!.getBoundingClientRect();
        setPointed(Math.max(0, Math.min(last, Math.round(((event.clientX - left) / width) * last))));
      }}
      onPointerLeave={() => setPointed(null)}
      onPointerUp={() => void (drag.current = null)}
    >
      <div
        className="absolute top-0 border-accent/70 border-x-2 bg-accent-wash/70"
        style={{ left: `${share(a)}%`, width: `${share(b) - share(a)}%`, height: HEIGHT }}
      >
        <span className="absolute top-0 left-1.5 z-10 whitespace-nowrap rounded bg-sheet/80 px-1 font-semibold text-[12px] text-accent">
          {number(b - a + 1)} sessions
        </span>
      </div>
      {second ? (
        <div
          className="absolute top-0 border-loss/60 border-x-2 bg-loss-wash/50"
          style={{
            left: `${share(indexOf(second.from, false))}%`,
            width: `${share(indexOf(second.to, true)) - share(indexOf(second.from, false))}%`,
            height: HEIGHT,
          }}
        >
          <span className="absolute top-0 left-1.5 whitespace-nowrap font-semibold text-[12px] text-loss">out-of-sample</span>
        </div>
      ) : null}
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="pointer-events-none absolute inset-x-0 top-0 w-full"
        style={{ height: HEIGHT }}
        aria-hidden
      >
        <polyline points={line} fill="none" className="stroke-ink" strokeWidth="1" vectorEffect="non-scaling-stroke" />
      </svg>
      {pointed === null ? null : (
        <>
          <span
            className="pointer-events-none absolute top-0 w-px bg-ink/50"
            style={{ left: `${share(pointed)}%`, height: HEIGHT }}
            aria-hidden
          />
          <span
            className={cx(
              "pointer-events-none absolute top-6 z-20 whitespace-nowrap rounded bg-sheet/95 px-1 text-[12px]",
              pointed > last / 2 ? "-translate-x-full -ml-1" : "ml-1",
            )}
            style={{ left: `${share(pointed)}%` }}
          >
            {sessionWords(pointed)}
          </span>
        </>
      )}
      {context ? (
        <Uses
          {...{ context, symbol }}
          place={(from, to) => [share(indexOf(from, false)), share(indexOf(to, true))]}
          lastDate={dates[last]!}
        />
      ) : null}
      {readOnly
        ? null
        : (["from", "to"] as const).map((grip) => (
            <div
              key={grip}
              role="slider"
              tabIndex={0}
              aria-label={grip === "from" ? "First session of the period" : "Last session of the period"}
              aria-valuemin={0}
              aria-valuemax={last}
              aria-valuenow={grip === "from" ? a : b}
              aria-valuetext={sessionWords(grip === "from" ? a : b)}
              onKeyDown={onKeyDown(grip)}
              className="absolute top-3 h-5 w-2 -translate-x-1/2 cursor-ew-resize rounded-full bg-accent"
              style={{ left: `${share(grip === "from" ? a : b)}%` }}
            />
          ))}
      {years.map(({ year, at }, i) => (
        <span
          key={year}
          className="absolute bottom-0 text-[11px] text-soft"
          style={{ left: `${at}%`, transform: i === 0 ? undefined : "translateX(-50%)" }}
        >
          {year}
        </span>
      ))}
    </div>
  );
}

interface UsesProps {
  readonly context: TrialContext;
  readonly symbol: string;
  readonly lastDate: string;
  /** Left and right end of a stretch in percent of the width. */
  readonly place: (from: string, to: string) => readonly [number, number];
}

/** Under the curve: chosen on by sweeps (full), looked at by runs (thin), kept unseen (hatched). */
function Uses({ context, symbol, lastDate, place }: UsesProps) {
  const bar = (from: string, to: string, look: string, title: string) => {
    const [left, right] = place(from, to);
    return (
      <div
        key={`${title}${from}`}
        title={`${title} ${dateWords(from)} – ${dateWords(to)}`}
        className={`absolute ${look}`}
        style={{ left: `${left}%`, width: `${Math.max(0.2, right - left)}%` }}
      />
    );
  };
  return (
    <>
      {usedStretches(context, symbol, false).map(({ from, to }) => bar(from, to, "top-[42px] h-0.5 bg-faint", "Seen by runs:"))}
      {usedStretches(context, symbol, true).map(({ from, to }) => bar(from, to, "top-[40px] h-1.5 bg-warn", "Spent by sweeps:"))}
      {context.reservedFrom && context.reservedFrom <= lastDate
        ? bar(
            context.reservedFrom,
            lastDate,
            "top-0 h-11 border-ink border-l-2 bg-[repeating-linear-gradient(45deg,var(--rule)_0_2px,transparent_2px_7px)]",
            "Held out:",
          )
        : null}
    </>
  );
}
