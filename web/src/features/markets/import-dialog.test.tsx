/** An import from file to report, with an answer of the server's. */
import { act } from "react";
import { beforeEach, expect, test, vi } from "vitest";
import { control, press, show, speaking } from "../../testing.tsx";
import { ImportDialog } from "./import-dialog.tsx";

let answer: () => Response;

beforeEach(() => {
  vi.stubGlobal("fetch", async () => answer());
  speaking();
});

const BARS = Array.from({ length: 12 }, (_none, i) => `2025-03-03T${String(i).padStart(2, "0")}:00:00Z,10,11,9,10.5,7`).join("\n");

async function pick(page: HTMLElement, name: string): Promise<void> {
  const input = control(page, "File of bars");
  Object.defineProperty(input, "files", { value: [new File([`time,open,high,low,close,volume\n${BARS}`], name)], configurable: true });
  await act(async () => input.dispatchEvent(new Event("change", { bubbles: true })));
  await vi.waitFor(() => expect(page.textContent).toContain("The first bar opens 2025-03-03 00:00 UTC at 10"));
}

test("what the server said of one file is gone when another is picked", async () => {
  await show(<ImportDialog onClose={() => undefined} />);
  const page = document.body;
  await pick(page, "first.csv");
  answer = () => Response.json({ error: { code: "bad-bars", message: "Line 4 repeats line 3.", details: {} } }, { status: 422 });
  await press(page, "Import");
  await vi.waitFor(() => expect(page.textContent).toContain("Line 4 repeats line 3."));
  await pick(page, "second.csv");
  expect(page.textContent).not.toContain("Line 4 repeats line 3.");
});
