/** A file that a user has chosen, read as JSON. What it holds is checked by whoever takes it. */
import { toast } from "sonner";

/** @returns null where it is not JSON, which has been said then. */
export async function readJson<T>(file: File): Promise<T | null> {
  try {
    return JSON.parse(await file.text()) as T;
  } catch (error) {
    toast.error(`${file.name} is not JSON: ${(error as Error).message}`);
    return null;
  }
}
