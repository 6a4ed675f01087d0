/** Runs on each pause in typing, when the user has turned that on. */
import { useEffect, useRef, useState } from "react";
import type { Draft } from "./use-draft.ts";

const KEY = "run-on-pause";
const PAUSE_MS = 600;

export interface AutoRun {
  readonly isOn: boolean;
  readonly toggle: () => void;
}

export function useAutoRun(draft: Draft, isSound: boolean, isRunning: boolean, start: () => Promise<void>): AutoRun {
  const [isOn, setOn] = useState(() => localStorage.getItem(KEY) === "on");
  const latest = useRef(start);
  latest.current = start;
  const ran = useRef(draft);
  useEffect(() => {
    if (!isOn || !isSound || isRunning || ran.current === draft) return;
    const timer = setTimeout(() => {
      ran.current = draft;
      void latest.current();
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [draft, isOn, isSound, isRunning]);
  const toggle = (): void => {
    localStorage.setItem(KEY, isOn ? "off" : "on");
    setOn(!isOn);
  };
  return { isOn, toggle };
}
