/** Alerts on every open page: the urgent ones stay until they are read. Of one watch and level the last is shown, so that many don't bury the page. */
import { toast } from "sonner";
import { useServerEvents } from "../../data/events.ts";

const PLAIN_MS = 8000;

export function AlertToasts() {
  useServerEvents((event) => {
    if (event.type !== "alert") return;
    const { level, watchId, watchName, text } = event;
    const show = level === "alert" ? toast.error : level === "warning" ? toast.warning : toast;
    const duration = level === "alert" ? Number.POSITIVE_INFINITY : PLAIN_MS;
    show(`${watchName}: ${text}`, { id: `alert ${watchId} ${level}`, duration, closeButton: true });
  });
  return null;
}
