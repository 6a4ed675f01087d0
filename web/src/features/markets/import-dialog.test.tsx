/** An import from file to report, with an answer of the server's. */
import { gzipSync, strToU8 } from "fflate";
import { act } from "react";
import { MemoryRouter } from "react-router";
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

const CSV = `time,open,high,low,close,volume\n${BARS}`;

async function pick(page: HTMLElement, name: string, bits: BlobPart = CSV, others: readonly File[] = []): Promise<void> {
  const input = control(page, "File of bars");
  Object.defineProperty(input, "files", { value: [new File([bits], name), ...others], configurable: true });
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

/** What an import answers, from one call to the next. */
function answering(replies: readonly object[], mapping: object | null = null): { readonly specs: { mode: string; overlap: string }[] } {
  const specs: { mode: string; overlap: string }[] = [];
  vi.stubGlobal("fetch", async (address: string) => {
    const url = new URL(address, "http://here");
    if (url.pathname.startsWith("/api/imports/")) {
      specs.push(JSON.parse(url.searchParams.get("spec")!));
      return Response.json(replies[specs.length - 1]);
    }
    return Response.json(url.pathname === "/api/import-mappings" ? { mapping } : url.pathname === "/api/markets" ? [KNOWN_BARS] : {});
  });
  return { specs };
}

const KNOWN_BARS = { ...KNOWN, bars: 12, firstMs: 0, lastMs: 6e4, instrument: { ...KNOWN.instrument, calendar: { isAssumed: false } } };
const REPORT = {
  ...{ symbol: "OWN", rows: 12, bars: 12, rejected: 0, firstMs: 0, lastMs: 6e4, problems: [], outsideSessions: 0, elapsedMs: 5 },
  ...{ isDone: true, repairs: { kept: 0, undone: 0 }, overlap: { same: 2, differs: 0, fresh: 10, examples: [] } },
};
const BAR = { open: 10, high: 11, low: 9, close: 10.5, volume: 7 };

test("several files come one after another; what differs is shown, and goes on as it is answered", async () => {
  const differing = { same: 1, differs: 1, fresh: 10, examples: [{ timeMs: 6e4, there: BAR, given: { ...BAR, close: 10.25 } }] };
  const { specs } = answering([REPORT, { ...REPORT, isDone: false, overlap: differing }, REPORT]);
  await show(
    <MemoryRouter>
      <ImportDialog onClose={() => undefined} />
    </MemoryRouter>,
  );
  const page = document.body;
  await pick(page, "own.csv", CSV, [new File([CSV], "ownb.csv")]);
  await press(page, "Import 2 files");
  await vi.waitFor(() => expect(page.textContent).toContain("1 of the bars of ownb.csv differ from those of OWN."));
  expect(page.textContent).toContain("10.25");
  await press(page, "Keep those there are, add the new");
  await vi.waitFor(() => expect(page.textContent).toContain("24 bars of OWN"));
  expect(page.textContent).toContain("in 2 files");
  expect(specs.map(({ mode, overlap }) => `${mode} ${overlap}`)).toEqual(["add ask", "add ask", "add keep"]);
});

test("files of other columns are not taken together", async () => {
  answering([]);
  await show(<ImportDialog onClose={() => undefined} />);
  const page = document.body;
  const input = control(page, "File of bars");
  const files = [new File([CSV], "a.csv"), new File([CSV.replace("volume", "interest")], "b.csv")];
  Object.defineProperty(input, "files", { value: files, configurable: true });
  await act(async () => input.dispatchEvent(new Event("change", { bubbles: true })));
  await vi.waitFor(() => expect(page.textContent).toContain("b.csv has other columns than a.csv. Import it by itself."));
});

test("a file with columns that are known is read as the last one was, until it is read anew", async () => {
  const format = { delimiter: ",", headerLines: 1, time: 0, clock: null, zoneColumn: null, open: 4, high: 2, low: 3, close: 1, volume: 5 };
  const mapping = { format: { ...format, dateFormat: "iso", decimal: ".", zone: "UTC", stamp: "open" }, timeframe: "1h", symbol: "BEFORE" };
  answering([], { ...mapping, currency: "ORM", tickSize: 0.5, pointValue: 40, minQuantity: 1, quantityStep: 1 });
  await show(<ImportDialog onClose={() => undefined} />);
  const page = document.body;
  await pick(page, "new.csv", CSV).catch(() => undefined);
  const value = (label: string): string => (control(page, label) as HTMLInputElement).value;
  await vi.waitFor(() => expect([value("Column 2 is"), value("Symbol"), value("Value of 1.0")]).toEqual(["close", "BEFORE", "40"]));
  await press(page, "Read it anew");
  await vi.waitFor(() => expect([value("Column 2 is"), value("Symbol")]).toEqual(["open", "NEW"]));
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
