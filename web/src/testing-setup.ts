/** What one test leaves is not there in the next: test files share a page and the modules of the app. */
import { toast } from "sonner";
import { afterAll, afterEach, vi } from "vitest";
import { cleanUp } from "./testing.tsx";

afterEach(cleanUp);
afterAll(() => {
  toast.dismiss();
  vi.useRealTimers();
  localStorage.clear();
  sessionStorage.clear();
  document.body.replaceChildren();
  document.title = "";
});
