import { act } from "react";
import { createRoot } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import "../../testing.tsx";
import { useDescription } from "./use-description.ts";

let asked: string[] = [];
let shown: ReturnType<typeof useDescription>;

function Probe({ source }: { readonly source: string }) {
  shown = useDescription(source);
  return null;
}

/** Answers as the server does: a new object each time. */
function answer(status: number, body: object): void {
  vi.stubGlobal("fetch", async (_url: string, { body: sent }: RequestInit) => {
    asked.push((JSON.parse(String(sent)) as { source: string }).source);
    return new Response(JSON.stringify(body), { status });
  });
}

beforeEach(() => {
  asked = [];
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

/** In steps, so that what an answer changes is drawn before time goes on. */
async function wait(ms: number): Promise<void> {
  for (let gone = 0; gone < ms; gone += 50)
    await act(async () => {
      await vi.advanceTimersByTimeAsync(50);
    });
}

test("a text is asked about once, however long it stands there, and once more when it changes", async () => {
  answer(200, { title: "A", inputs: [] });
  const root = createRoot(document.createElement("div"));
  await act(async () => root.render(<Probe source="one" />));
  await wait(15_000);
  expect(asked).toEqual(["one"]);
  expect(shown.description?.title).toBe("A");
  // While one types, only the last text is asked about.
  await act(async () => root.render(<Probe source="two" />));
  await wait(100);
  await act(async () => root.render(<Probe source="three" />));
  await wait(15_000);
  expect(asked).toEqual(["one", "three"]);
  act(() => root.unmount());
});

test("what is wrong with a text is told with its place, and the last good declaration stays", async () => {
  answer(200, { title: "A", inputs: [] });
  const root = createRoot(document.createElement("div"));
  await act(async () => root.render(<Probe source="good" />));
  await wait(1000);
  answer(422, { error: { code: "bad-plan", message: "Line 3, column 7: no.", details: { line: 3, column: 7 } } });
  await act(async () => root.render(<Probe source="bad" />));
  await wait(1000);
  expect(shown).toMatchObject({ description: { title: "A" }, problem: { line: 3, column: 7 } });
  // The server being away is no mistake of the text.
  answer(503, { error: { code: "unavailable", message: "away", details: {} } });
  await act(async () => root.render(<Probe source="good again" />));
  await wait(1000);
  expect(shown.problem).toMatchObject({ line: 3 });
  act(() => root.unmount());
});
