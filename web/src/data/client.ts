/** The app's cache of what the server has answered, and how it is kept true. */
import type { ServerEvent } from "@plan-tester/contract";
import { QueryClient, useQueryClient } from "@tanstack/react-query";
import { useServerEvents } from "./events.ts";
import { type Key, keyOf, type ReadRoute } from "./keys.ts";
import { queries } from "./queries.ts";
import { AFTER_EVENT } from "./stale.ts";

export const makeClient = (): QueryClient =>
  new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 5000, refetchOnWindowFocus: false } } });

/** What is shown of it is read again at once, the rest when it is next shown. */
export async function refresh(client: QueryClient, stale: readonly (Key | ReadRoute)[]): Promise<void> {
  await Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: typeof key === "string" ? keyOf(key) : key })));
}

/** Brings a sweep of the list up to date; one that another page began is looked up. */
function takeProgress(client: QueryClient, { id, done, variants }: Extract<ServerEvent, { readonly type: "sweep-progress" }>): void {
  const { queryKey } = queries.sweeps();
  const known = client.getQueryData(queryKey);
  if (!known?.some((sweep) => sweep.id === id)) void refresh(client, ["listSweeps"]);
  else
    client.setQueryData(
      queryKey,
      known.map((sweep) => (sweep.id === id ? { ...sweep, done, variants } : sweep)),
    );
}

/** What an event brings is taken as it is; what it makes out of date is read again. */
export function take(client: QueryClient, event: ServerEvent): void {
  if (event.type === "queue") client.setQueryData(queries.queue().queryKey, [...event.queue]);
  if (event.type === "sweep-progress") takeProgress(client, event);
  if (event.type === "venue") client.setQueryData(queries.venue().queryKey, event.status);
  const staleAfter = (AFTER_EVENT as Readonly<Record<string, ((event: never) => readonly (Key | ReadRoute)[]) | undefined>>)[event.type];
  if (staleAfter) void refresh(client, staleAfter(event as never));
}

/** What the server tells makes what was read before out of date, on whichever page one is. */
export function useFreshness(): void {
  const client = useQueryClient();
  useServerEvents((event) => take(client, event));
}
