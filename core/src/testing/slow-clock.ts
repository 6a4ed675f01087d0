/**
 * The joint clock once more, slow and written for reading (R2): every moment of every instrument is taken in its turn,
 * one after the other, from one list.
 */
import type { SlowBar, SlowEngine } from "./slow-engine.ts";

export interface SlowTimedBar {
  readonly openMs: number;
  readonly closeMs: number;
  readonly bar: SlowBar;
  /** Its session closes with it. */
  readonly closesSession: boolean;
  readonly fine: readonly { readonly openMs: number; readonly closeMs: number; readonly bar: SlowBar }[];
}

export interface SlowFeed {
  readonly engine: SlowEngine;
  readonly bars: readonly SlowTimedBar[];
  /** What a plan does at the close of a bar. */
  readonly atClose: (barIndex: number) => void;
  /** What a plan does at the open of a bar, before anything fills there. */
  readonly atOpen: (barIndex: number) => void;
  /** The same at the open of the j-th of its finer bars, from the second on. */
  readonly atFine: (barIndex: number, j: number) => void;
}

interface Moment {
  readonly timeMs: number;
  /** Times that are over, paths, closes, events at opens, fills at opens. */
  readonly phase: -1 | 0 | 1 | 2 | 3;
  readonly feed: number;
  readonly happen: () => void;
}

/** Equity at each close of the first instrument; `cash` is what the account began with, each engine begins with none of it. */
export function runSlowly(feeds: readonly SlowFeed[], cash: number): number[] {
  const moments: Moment[] = [];
  const equity: number[] = [];
  /** The last known close of each; a position that was opened before there is one has made nothing yet. */
  const marks = feeds.map((): number | null => null);
  feeds.forEach(({ engine, bars, atClose, atOpen, atFine }, feed) => {
    bars.forEach(({ openMs, closeMs, bar, fine, closesSession }, i) => {
      const paths = fine.length > 0 ? fine : [{ openMs, closeMs, bar }];
      // A bar opens with the first finer bar that there is in it.
      const opensMs = paths[0]!.openMs;
      const begin = (): void => {
        engine.beginBar();
        atOpen(i);
      };
      moments.push({ timeMs: opensMs, phase: 2, feed, happen: begin });
      paths.forEach((path, j) => {
        const open = (): void => {
          // Whether the last ones are missing can't be known.
          engine.openPath(path.bar, path.closeMs < closeMs);
          engine.isAsleep = true;
        };
        if (j > 0) moments.push({ timeMs: path.openMs, phase: 2, feed, happen: () => engine.beginFine(() => atFine(i, j)) });
        moments.push({ timeMs: path.openMs, phase: 3, feed, happen: open });
        moments.push({
          timeMs: path.closeMs,
          phase: 0,
          feed,
          happen: () => engine.walkPath(path.bar, closesSession && path.closeMs === closeMs),
        });
      });
      const [last] = paths.slice(-1) as [(typeof paths)[0]];
      if (closesSession && last.closeMs < closeMs)
        moments.push({ timeMs: closeMs, phase: 0, feed, happen: () => engine.closeSession(last.bar[3]) });
      const close = (): void => {
        marks[feed] = bar[3];
        atClose(i);
      };
      moments.push({ timeMs: closeMs, phase: -1, feed, happen: () => engine.endTime() });
      moments.push({ timeMs: closeMs, phase: 1, feed, happen: close });
    });
  });
  moments.sort((a, b) => a.timeMs - b.timeMs || a.phase - b.phase || a.feed - b.feed);
  moments.forEach((moment, m) => {
    moment.happen();
    const next = moments[m + 1];
    // All closes of a time are known before equity is marked.
    const isLast = !next || next.timeMs !== moment.timeMs || next.phase > 1;
    if (moment.phase === 1 && isLast && moments.some(({ timeMs, phase, feed }) => feed === 0 && phase === 1 && timeMs === moment.timeMs))
      equity.push(
        feeds.reduce((sum, { engine }, feed) => sum + (marks[feed] === null ? engine.cash : engine.equityAt(marks[feed]!)), cash),
      );
  });
  return equity;
}
