/** The server's event stream, shared by everything on the page. */
import { ROUTES, type ServerEvent } from "@plan-tester/contract";
import { useEffect, useRef } from "react";

type Listener = (event: ServerEvent) => void;

const listeners = new Set<Listener>();
let source: EventSource | null = null;

function open(): void {
  if (source) return;
  source = new EventSource(`/api${ROUTES.getEvents.path}`);
  source.onmessage = (message) => {
    const event = JSON.parse(message.data as string) as ServerEvent;
    for (const listener of listeners) listener(event);
  };
}

/** Calls the latest `listener` for every event while the component is shown. */
export function useServerEvents(listener: Listener): void {
  const latest = useRef(listener);
  latest.current = listener;
  useEffect(() => {
    const own: Listener = (event) => latest.current(event);
    listeners.add(own);
    open();
    return () => {
      listeners.delete(own);
      if (listeners.size > 0) return;
      source?.close();
      source = null;
    };
  }, []);
}
