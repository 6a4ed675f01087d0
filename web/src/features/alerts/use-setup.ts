/** The setup of alerts, and changes to it: each shows at once and is saved against the revision before it, one after the other. */
import type { AlertChannel, AlertRule, AlertSetup } from "@plan-tester/contract";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";

export type SetupPart = Partial<Omit<AlertSetup, "revision">>;

const { queryKey } = queries.alerts();

export function useSetup() {
  const client = useQueryClient();
  const { data, error } = useQuery(queries.alerts());
  const setAlerts = useChange("setAlerts");
  const line = useRef<Promise<unknown>>(Promise.resolve());
  // They lie over what is read, so that nothing read meanwhile takes them from the screen.
  const [unsaved, setUnsaved] = useState<readonly SetupPart[]>([]);
  const setup: AlertSetup | undefined = data && Object.assign({}, data.setup, ...unsaved);
  /** @returns whether it was saved */
  const change = (part: SetupPart): Promise<boolean> => {
    setUnsaved((parts) => [...parts, part]);
    const saved = line.current.then(async () => {
      const now = client.getQueryData(queryKey);
      const done = now ? await setAlerts.run({}, { ...now.setup, ...part }) : null;
      if (done) client.setQueryData(queryKey, done.reply);
      // What is there, and not what was wished for, is shown again.
      else await client.invalidateQueries({ queryKey });
      setUnsaved((parts) => parts.filter((one) => one !== part));
      return done !== null;
    });
    line.current = saved;
    return saved;
  };
  const remove = async (part: SetupPart, what: string): Promise<void> => {
    if (!setup || !(await change(part))) return;
    const { revision: _revision, ...whole } = setup;
    toast(`${what} removed.`, { action: { label: "Undo", onClick: () => void change(whole) } });
  };
  return { setup, withSecret: data?.withSecret ?? [], error, change, remove };
}

/** A list with one of its things put in place of the one with its id, or at the end. */
export function put<T extends AlertChannel | AlertRule>(list: readonly T[], thing: T): T[] {
  return list.some(({ id }) => id === thing.id) ? list.map((one) => (one.id === thing.id ? thing : one)) : [...list, thing];
}

export const newId = (): string => crypto.randomUUID().slice(0, 8);
