import type { TrialContext } from "@plan-tester/contract";
import { act } from "react";
import { describe, expect, test, vi } from "vitest";
import { control, keyOn, press, refusal, serving, show, type } from "../../testing.tsx";
import { HistoryUse, usedStretches } from "./history-use.tsx";

const context = (more: Partial<TrialContext> = {}): TrialContext => ({ trials: 3, tried: [], stretches: [], reservedFrom: "", ...more });
const used = (from: string, to: string, kind: "run" | "sweep" | "walk-forward" = "run", symbol = "KELP") => ({
  symbol,
  from,
  to,
  kind,
  variants: 1,
});

describe("stretches of history", () => {
  test("that touch or overlap are one, of one instrument and one kind of use", () => {
    const stretches = [
      used("2024-06-01", "2024-08-01"),
      used("2024-01-01", "2024-03-01"),
      used("2024-03-01", "2024-04-01"),
      used("2024-02-01", "2024-02-10"),
      used("2024-10-01", "2024-11-01", "sweep"),
      used("2024-10-15", "2024-12-01", "walk-forward"),
      used("2020-01-01", "2020-02-01", "run", "TIDE"),
    ];
    expect(usedStretches(context({ stretches }), "KELP", false)).toEqual([
      { from: "2024-01-01", to: "2024-04-01" },
      { from: "2024-06-01", to: "2024-08-01" },
    ]);
    expect(usedStretches(context({ stretches }), "KELP", true)).toEqual([{ from: "2024-10-01", to: "2024-12-01" }]);
    expect(usedStretches(context({ stretches }), "GANN", true)).toEqual([]);
  });
});

describe("what is kept unseen", () => {
  const open = async (more: Partial<TrialContext> = {}) => {
    const host = await show(<HistoryUse planId="p1" context={context(more)} symbol="KELP" lastDate="2025-02-28" />);
    await act(async () => host.querySelector("button")!.click());
    return host;
  };

  test("is told with the trials; history that was used is named, and whether it was chosen on", async () => {
    const host = await open({ trials: 1, stretches: [used("2024-01-02", "2024-03-01", "sweep"), used("2024-05-02", "2024-06-03")] });
    expect(host.querySelector("button")!.textContent).toBe("1 trial");
    expect(document.body.textContent).toMatch(/sweeps chose on: 2 Jan 2024 – 1 Mar 2024. Single runs looked at: 2 May 2024 – 3 Jun 2024/);
  });

  test("is a date from which on nothing is reached, also by Enter; a date beyond the history is refused", async () => {
    const asked = serving((_what, body) => ({ id: "p1", ...body }));
    await open();
    const field = control(document.body, "Hold out from");
    await type(field, "1 Mar 2026");
    expect(document.querySelector("[role=alert]")?.textContent).toBe("The last is 28 Feb 2025.");
    await act(async () => field.closest("form")!.requestSubmit());
    expect(asked).toEqual([]);
    expect(document.activeElement).toBe(field);
    await type(field, "1 Jan 2025");
    await keyOn(field, "ArrowUp");
    await act(async () => field.closest("form")!.requestSubmit());
    await vi.waitFor(() => expect(asked).toMatchObject([{ what: "PATCH /plans/p1", body: { reservedFrom: "2025-01-02" } }]));
  });

  test("is released on purpose only: asked twice, and kept where the server refuses", async () => {
    const asked = serving(() => refusal(503, "unavailable", "Not now."));
    const host = await open({ reservedFrom: "2025-01-01" });
    expect(host.querySelector("button")!.textContent).toBe("3 trials, held out from 1 Jan 2025");
    await press(document.body, "Release the holdout");
    expect(asked).toEqual([]);
    await press(document.body, "Release for good");
    await vi.waitFor(() => expect(asked).toMatchObject([{ body: { reservedFrom: "" } }]));
    expect(document.body.textContent).toContain("Release for good");
  });
});
