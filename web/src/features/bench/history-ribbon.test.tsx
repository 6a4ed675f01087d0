import { act } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { keyOf } from "../../data/keys.ts";
import { drag, hold, keyOn, show, withAnswers } from "../../testing.tsx";
import { HistoryRibbon } from "./history-ribbon.tsx";

/** A hundred and one sessions from 2024-01-01 on. */
const dates = Array.from({ length: 101 }, (_, k) => new Date(Date.UTC(2024, 0, 1 + k)).toISOString().slice(0, 10));
const calendar = {
  ...{ zone: "UTC", weekly: [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "09:00", close: "17:00" })) },
  ...{ holidays: [], earlyCloses: [], sessionsPerYear: 365 },
};
const marketsOf = (more: object) => [{ symbol: "KELP", instrument: { symbol: "KELP", calendar: { ...calendar, ...more } } }];
const answers = [
  [keyOf("getHistory", { symbol: "KELP" }), { dates, closes: dates.map((_date, k) => 100 + (k % 7)) }],
  [keyOf("listMarkets"), marketsOf({})],
] as const;
const at = (k: number): string => dates[k]!;

interface Period {
  readonly from: string;
  readonly to: string;
}

const ribbon = (first: Period, readOnly = false) =>
  hold<Period>(first, (value, onChange) =>
    withAnswers(answers, <HistoryRibbon symbol="KELP" {...value} readOnly={readOnly} onChange={(from, to) => onChange({ from, to })} />),
  );
/** The ribbon itself: ten pixels a session. */
function boxOf(host: HTMLElement): HTMLElement {
  const box = host.querySelector<HTMLElement>(".touch-none")!;
  box.setPointerCapture = () => undefined;
  return box;
}
const grip = (host: HTMLElement, words: string): HTMLElement => host.querySelector<HTMLElement>(`[aria-label^="${words}"]`)!;

beforeEach(() => {
  vi.spyOn(Element.prototype, "getBoundingClientRect").mockReturnValue({ left: 0, top: 0, width: 1000, height: 58 } as DOMRect);
});
afterEach(() => vi.restoreAllMocks());

describe("the ribbon of history", () => {
  test("says how many sessions are chosen", async () => {
    const { host } = await ribbon({ from: at(20), to: at(39) });
    expect(host.textContent).toContain("20 sessions");
    expect(grip(host, "First session").getAttribute("aria-valuetext")).toBe("Sun 21 Jan 2024");
  });

  test("the session under the pointer is named, and why the days ahead of it had none", async () => {
    const [history] = answers;
    // 50 sessions on is 20 Feb 2024; the day before it is no longer one.
    const without = { ...(history[1] as object), dates: dates.filter((date) => date !== "2024-02-19") };
    const special = { holidays: ["2024-02-19"], names: [{ date: "2024-02-19", name: "Gull Monday" }] };
    const host = await show(
      withAnswers(
        [
          [history[0], without],
          [keyOf("listMarkets"), marketsOf(special)],
        ],
        <HistoryRibbon {...{ symbol: "KELP", from: at(0), to: at(90), readOnly: true, onChange: () => undefined }} />,
      ),
    );
    await act(async () => boxOf(host).dispatchEvent(new PointerEvent("pointermove", { clientX: 494, bubbles: true })));
    expect(host.textContent).toContain("Tue 20 Feb 2024 · before it closed Mon 19 Feb: Gull Monday");
    await act(async () => boxOf(host).dispatchEvent(new PointerEvent("pointermove", { clientX: 300, bubbles: true })));
    expect(host.textContent).not.toContain("closed");
  });

  test.each<[string, number, number, [number, number]]>([
    ["the first end is dragged", 200, 300, [30, 60]],
    ["the last end is dragged", 600, 750, [20, 75]],
    ["neither end can pass the other", 200, 900, [59, 60]],
    ["the whole is dragged between its ends", 400, 450, [25, 65]],
    ["the whole stops at the end of history, and keeps its length", 400, 990, [60, 100]],
    ["and at its beginning", 400, -500, [0, 40]],
    ["beyond the end, the end follows the pointer", 800, 850, [20, 85]],
    ["before the start, the start does", 100, 50, [5, 60]],
  ])("%s", async (_name, from, to, [first, last]) => {
    const form = await ribbon({ from: at(20), to: at(60) });
    await drag(boxOf(form.host), { clientX: from }, { clientX: to });
    expect(form.value()).toEqual({ from: at(first), to: at(last) });
  });

  test("arrow keys move an end by a session, with Shift by a month of them", async () => {
    const form = await ribbon({ from: at(20), to: at(60) });
    await keyOn(grip(form.host, "First session"), "ArrowRight");
    expect(form.value()).toEqual({ from: at(21), to: at(60) });
    await keyOn(grip(form.host, "Last session"), "ArrowLeft", { shiftKey: true });
    expect(form.value()).toEqual({ from: at(21), to: at(39) });
    for (let k = 0; k < 3; k++) await keyOn(grip(form.host, "Last session"), "ArrowLeft", { shiftKey: true });
    expect(form.value()).toEqual({ from: at(21), to: at(22) });
  });

  test("a run that is only shown has nothing to drag", async () => {
    const form = await ribbon({ from: at(20), to: at(60) }, true);
    await drag(boxOf(form.host), { clientX: 400 }, { clientX: 450 });
    expect(form.value()).toEqual({ from: at(20), to: at(60) });
    expect(form.host.querySelector("[role=slider]")).toBeNull();
  });

  test("a period that lies between sessions, or beyond them, is shown by the sessions in it", async () => {
    const { host } = await ribbon({ from: "2023-06-01", to: "2030-01-01" });
    expect(host.textContent).toContain("101 sessions");
  });

  test("a second stretch stands beside the first", async () => {
    const host = await show(
      withAnswers(
        answers,
        <HistoryRibbon {...{ symbol: "KELP", from: at(0), to: at(50), onChange: () => undefined }} second={{ from: at(60), to: at(80) }} />,
      ),
    );
    const second = [...host.querySelectorAll<HTMLElement>("div")].find((element) => element.textContent === "out-of-sample")!;
    expect([second.style.left, second.style.width]).toEqual(["60%", "20%"]);
  });
});
