/** A change on the server, asked for by a component. */
import type { CallOf } from "@plan-tester/contract";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { toast } from "sonner";
import { type Called, callUntil, messageOf } from "./api.ts";
import { refresh } from "./client.ts";
import type { Key, ReadRoute } from "./keys.ts";
import { AFTER_CHANGE, type ChangingRoute } from "./stale.ts";

export interface Change<Name extends ChangingRoute> {
  /** Asks for it, and settles when what it made out of date is read again. null where it failed, which has been said then. */
  readonly run: (...given: CallOf<Name>) => Promise<{ readonly reply: Called<Name> } | null>;
  readonly isRunning: boolean;
  readonly reply: Called<Name> | undefined;
  readonly error: Error | null;
  /** The reply or the error is of something else than what is shown now. */
  readonly forget: () => void;
  /** Waits for it no longer; a route that says so ends then, and has changed nothing. */
  readonly stop: () => void;
}

/** @param options.shows the component shows the error itself, so that no message pops up. */
export function useChange<Name extends ChangingRoute>(name: Name, { shows = false } = {}): Change<Name> {
  const client = useQueryClient();
  const under = useRef<AbortController | null>(null);
  const { mutateAsync, isPending, data, error, reset } = useMutation({
    mutationFn: (given: CallOf<Name>) => {
      under.current = new AbortController();
      return callUntil(under.current.signal, name, ...given);
    },
    onSuccess: (_reply, given) => {
      const stale = AFTER_CHANGE[name] as (...fields: CallOf<Name>) => readonly (Key | ReadRoute)[];
      return refresh(client, stale(...given));
    },
    onError: (problem) => {
      if (!shows) toast.error(messageOf(problem));
    },
  });
  const run = async (...given: CallOf<Name>): Promise<{ readonly reply: Called<Name> } | null> => {
    try {
      return { reply: await mutateAsync(given) };
    } catch {
      return null;
    }
  };
  return { run, isRunning: isPending, reply: data, error, forget: reset, stop: () => under.current?.abort() };
}
