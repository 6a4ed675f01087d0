/** An import from file to report, with an answer of the server's. */
import { gzipSync, strToU8 } from "fflate";
import { act } from "react";
import { beforeEach, expect, test, vi } from "vitest";
import { control, press, show, speaking } from "../../testing.tsx";
import { ImportDialog } from "./import-dialog.tsx";

let answer: () => Response;

beforeEach(() => {
  answer = () => Response.json([]);
  vi.stubGlobal("fetch", async () => answer());
  speaking();
});

const KNOWN = {
  origin: "import",
  instrument: { symbol: "OWN", currency: "ORM", tickSize: 0.5, pointValue: 40, minQuantity: 2, quantityStep: 2 },
};

const BARS = Array.from({ length: 12 }, (_none, i) => `2025-03-03T${String(i).padStart(2, "0")}:00:00Z,10,11,9,10.5,7`).join("\n");

async function pick(page: HTMLElement, name: string, bits: BlobPart = `time,open,high,low,close,volume\n${BARS}`): Promise<void> {
  const input = control(page, "File of bars");
  Object.defineProperty(input, "files", { value: [new File([bits], name)], configurable: true });
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

test("of an instrument that there is already what an import asks is as it was", async () => {
  answer = () => Response.json([KNOWN]);
  await show(<ImportDialog onClose={() => undefined} />);
  const page = document.body;
  await pick(page, "own.csv");
  const shown = () =>
    ["Currency", "Value of 1.0", "Tick size", "Least size"].map((label) => (control(page, label) as HTMLInputElement).value);
  await vi.waitFor(() => expect(shown()).toEqual(["ORM", "40", "0.5", "2"]));
  await pick(page, "another.csv");
  expect(shown()).toEqual(["XSC", "1", "0.1", "1"]);
});

test.each([
  ["packed, its last line without an end", gzipSync(strToU8(`time,open,high,low,close\n${BARS.replaceAll(",7", "")}`))],
  [
    "JSON",
    strToU8(
      JSON.stringify(
        BARS.split("\n").map((line) =>
          Object.fromEntries(
            line.split(",").map((cell, k) => [["time", "open", "high", "low", "close", "volume"][k], k === 0 ? cell : Number(cell)]),
          ),
        ),
      ),
    ),
  ],
])("a file that is %s is looked into as any", async (_what, bytes) => {
  await show(<ImportDialog onClose={() => undefined} />);
  await pick(document.body, "own.json.gz", new Blob([new Uint8Array(bytes)]));
  expect((control(document.body, "Symbol") as HTMLInputElement).value).toBe("OWN");
  expect((control(document.body, "Bars of") as HTMLSelectElement).value).toBe("1h");
});
