/** Walking through a run: the bar and the event one stands on, what is known of it, and how to go on. */
import type { RunEvidence, RunSteps } from "@plan-tester/contract";
import type { TraceEvent, TraceState } from "@plan-tester/core";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import type { NamedStrip } from "../../charts/strip-layers.ts";
import { queries } from "../../data/queries.ts";
import { useKept } from "../../lib/kept.ts";
import { type Jump, jumpBars, jumpFrom } from "./jumps.ts";

/** Bars that are asked for at once. */
export const CHUNK = 400;

export interface Stepper {
  /** The bar one stands on; null before the first step. */
  readonly bar: number | null;
  /** Number of the event on that bar, or -1 after its close. */
  readonly eventAt: number;
  readonly events: readonly TraceEvent[];
  readonly steps: RunSteps | null;
  readonly state: TraceState | null;
  readonly error: unknown;
  readonly isLoading: boolean;
  readonly jump: Jump;
  readonly isPlaying: boolean;
  /** Bars a second. */
  readonly speed: number;
  setJump(jump: Jump): void;
  setSpeed(speed: number): void;
  goTo(bar: number): void;
  /** To the next bar of the chosen kind. */
  go(direction: 1 | -1): void;
  /** To the next event, over the ends of bars. */
  goEvent(direction: 1 | -1): void;
  play(on: boolean): void;
}

const chunkOf = (bar: number): number => Math.floor(bar / CHUNK);

export function useStepper(run: RunEvidence, strips: readonly NamedStrip[], isOn: boolean): Stepper {
  const length = run.barsDone;
  const [bar, setBar] = useKept<number | null>(`step ${run.id}`, null);
  const [eventAt, setEventAt] = useState(-1);
  const [jump, setJump] = useKept<Jump>("step jump", "bar");
  const [speed, setSpeed] = useKept("step speed", 5);
  const [isPlaying, setPlaying] = useState(false);
  const client = useQueryClient();
  const orders = useQuery({ ...queries.runOrders(run.id), enabled: isOn }).data ?? null;
  const chunk = bar === null ? null : chunkOf(bar);
  const query = useQuery({
    ...queries.runSteps(run.id, (chunk ?? 0) * CHUNK, Math.min(length - 1, ((chunk ?? 0) + 1) * CHUNK - 1)),
    enabled: isOn && chunk !== null && length > 0,
    placeholderData: keepPreviousData,
  });
  const steps = query.data && bar !== null && bar >= query.data.from && bar <= query.data.to ? query.data : null;
  const events = useMemo(() => steps?.events.filter(({ barIndex }) => barIndex === bar) ?? [], [steps, bar]);
  const targets = useMemo(() => jumpBars(jump, run, orders, strips), [jump, run, orders, strips]);

  useEffect(() => {
    // The next stretch is asked for while one walks through this one.
    if (!isOn || bar === null || bar % CHUNK < CHUNK / 2 || (chunkOf(bar) + 1) * CHUNK >= length) return;
    const from = (chunkOf(bar) + 1) * CHUNK;
    void client.prefetchQuery(queries.runSteps(run.id, from, Math.min(length - 1, from + CHUNK - 1)));
  }, [client, run.id, bar, length, isOn]);

  const goTo = useCallback(
    (next: number): void => {
      setBar(Math.max(0, Math.min(length - 1, next)));
      setEventAt(-1);
    },
    [setBar, length],
  );
  const go = useCallback(
    (direction: 1 | -1): void => {
      const next = jumpFrom(targets, bar ?? -1, direction, length);
      if (next !== null) goTo(next);
      else setPlaying(false);
    },
    [targets, bar, length, goTo],
  );
  const goEvent = useCallback(
    (direction: 1 | -1): void => {
      if (bar === null) return goTo(run.firstBar);
      // After the close stands behind the last event.
      const at = eventAt < 0 ? events.length : eventAt;
      const next = at + direction;
      if (next >= 0 && next < events.length) return setEventAt(next);
      if (next === events.length) return setEventAt(-1);
      if (direction < 0) return goTo(bar - 1);
      if (bar + 1 >= length) return;
      goTo(bar + 1);
      if (steps?.events.some(({ barIndex }) => barIndex === bar + 1)) setEventAt(0);
    },
    [bar, eventAt, events, steps, goTo, run.firstBar, length],
  );

  useEffect(() => {
    if (!isPlaying || !isOn) return;
    // Faster than the screen: several bars a tick.
    const bars = Math.max(1, Math.round(speed / 30));
    const timer = setInterval(() => (bars === 1 ? go(1) : goTo((bar ?? 0) + bars)), 1000 / Math.min(speed, 30));
    return () => clearInterval(timer);
  }, [isPlaying, isOn, speed, go, goTo, bar]);

  const state =
    steps && bar !== null
      ? (steps.states[eventAt >= 0 ? (events[eventAt]?.state ?? 0) : steps.closeStates[bar - steps.from]!] ?? null)
      : null;
  return {
    ...{ bar, eventAt, events, steps, state, error: query.error, isLoading: query.isFetching && !steps },
    ...{ jump, setJump, speed, setSpeed, isPlaying, play: setPlaying, goTo, go, goEvent },
  };
}
