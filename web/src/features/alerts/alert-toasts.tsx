/** Alerts on every open page: the urgent ones stay until they are read. */
import { toast } from "sonner";
import { useServerEvents } from "../../data/events.ts";

const PLAIN_MS = 8000;

export function AlertToasts() {
  useServerEvents((event) => {
    if (event.type !== "alert") return;
    const { level, watchName, text } = event;
    const show = level === "alert" ? toast.error : level === "warning" ? toast.warning : toast;
    show(`${watchName}: ${text}`, { duration: level === "alert" ? Number.POSITIVE_INFINITY : PLAIN_MS, closeButton: true });
  });
  return null;
}
