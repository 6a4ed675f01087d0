/** Commands of the page that is shown: one list feeds the keyboard and the palette. */
import { useEffect, useRef, useSyncExternalStore } from "react";

export interface Command {
  readonly id: string;
  readonly label: string;
  /** Shown in the palette and listened for, e.g. "Ctrl+Enter". */
  readonly keys?: string;
  readonly act: () => void;
  /** Comes before whatever has the focus, the editor too. */
  readonly isFirst?: boolean;
}

const sources = new Map<symbol, readonly Command[]>();
const listeners = new Set<() => void>();
let all: readonly Command[] = [];

function publish(): void {
  all = [...sources.values()].flat();
  for (const listener of listeners) listener();
}

export function useAllCommands(): readonly Command[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => all,
  );
}

/** Offers commands for as long as the component is shown. */
export function useCommands(commands: readonly Command[]): void {
  const latest = useRef(commands);
  latest.current = commands;
  const names = commands.map(({ id, label }) => `${id}:${label}`).join("|");
  useEffect(() => {
    const key = Symbol(names);
    sources.set(
      key,
      latest.current.map((command) => ({ ...command, act: () => latest.current.find(({ id }) => id === command.id)?.act() })),
    );
    publish();
    return () => {
      sources.delete(key);
      publish();
    };
  }, [names]);
}

function matches(keys: string, event: KeyboardEvent): boolean {
  const parts = keys.split("+");
  const key = parts.pop()!;
  return (
    event.key.toLowerCase() === key.toLowerCase() &&
    parts.includes("Ctrl") === (event.ctrlKey || event.metaKey) &&
    parts.includes("Alt") === event.altKey &&
    parts.includes("Shift") === event.shiftKey
  );
}

/** Listens for the keys of all commands. Call once. */
export function useCommandKeys(): void {
  useEffect(() => {
    const run = (event: KeyboardEvent, isFirst: boolean): void => {
      if (event.defaultPrevented) return;
      const command = all.findLast((one) => (one.isFirst ?? false) === isFirst && one.keys !== undefined && matches(one.keys, event));
      if (!command) return;
      // Case: a plain key such as Escape belongs to an open dialog first.
      if (!event.ctrlKey && !event.metaKey && !event.altKey && document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      if (isFirst) event.stopPropagation();
      command.act();
    };
    const first = (event: KeyboardEvent): void => run(event, true);
    const later = (event: KeyboardEvent): void => run(event, false);
    window.addEventListener("keydown", first, { capture: true });
    window.addEventListener("keydown", later);
    return () => {
      window.removeEventListener("keydown", first, { capture: true });
      window.removeEventListener("keydown", later);
    };
  }, []);
}
