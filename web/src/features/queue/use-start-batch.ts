import type { BatchRequest } from "@plan-tester/contract";
import { useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { queries } from "../../lib/queries.ts";

/** Sends runs to the background. Gives the name of the batch; null when it was refused, which has been said then. */
export function useStartBatch(): (request: BatchRequest) => Promise<string | null> {
  const client = useQueryClient();
  return async (request) => {
    try {
      const { batch } = await api.post<{ batch: string }>("/queue", request);
      await client.invalidateQueries({ queryKey: queries.queue().queryKey });
      return batch;
    } catch (error) {
      toast.error(messageOf(error));
      return null;
    }
  };
}
