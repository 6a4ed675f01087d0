/** The setup of alerts, and changes to it: each is saved at once against the revision that it was made from. */
import type { AlertChannel, AlertRule, AlertSetup } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";

export type SetupPart = Partial<Omit<AlertSetup, "revision">>;

export function useSetup() {
  const { data, error } = useQuery(queries.alerts());
  const setAlerts = useChange("setAlerts");
  const setup = data?.setup;
  /** @returns whether it was saved */
  const change = async (part: SetupPart): Promise<boolean> =>
    setup !== undefined && (await setAlerts.run({}, { ...setup, ...part })) !== null;
  const remove = async (part: SetupPart, what: string): Promise<void> => {
    const before = setup;
    const saved = before && (await setAlerts.run({}, { ...before, ...part }));
    if (!saved) return;
    const { revision } = saved.reply.setup;
    toast(`${what} removed.`, { action: { label: "Undo", onClick: () => void setAlerts.run({}, { ...before, revision }) } });
  };
  return { setup, withSecret: data?.withSecret ?? [], error, change, remove, isSaving: setAlerts.isRunning };
}

/** A list with one of its things put in place of the one with its id, or at the end. */
export function put<T extends AlertChannel | AlertRule>(list: readonly T[], thing: T): T[] {
  return list.some(({ id }) => id === thing.id) ? list.map((one) => (one.id === thing.id ? thing : one)) : [...list, thing];
}

export const newId = (): string => crypto.randomUUID().slice(0, 8);
