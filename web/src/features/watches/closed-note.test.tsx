import type { Market } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { queries } from "../../data/queries.ts";
import { show, withAnswers } from "../../testing.tsx";
import { ClosedNote } from "./closed-note.tsx";

const CALENDAR = {
  ...{ zone: "UTC", holidays: ["2026-03-02"], earlyCloses: [], sessionsPerYear: 252 },
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "17:00" })),
};

const note = async (nowMs: number, calendar: object = CALENDAR, connected = true) =>
  (
    await show(
      withAnswers(
        [
          [queries.markets().queryKey, [{ instrument: { symbol: "KELP", calendar } } as Market]],
          [queries.venue().queryKey, { connected, nowMs }],
        ],
        <ClosedNote symbol="KELP" zone="UTC" />,
      ),
    )
  ).textContent;

test("says why no bars come, and until when; nothing while it trades, where nobody knows, or without a venue", async () => {
  expect(await note(Date.UTC(2026, 1, 28, 12))).toBe("Closed now: no trading that day. Opens 3 Mar 2026, 09:00.");
  expect(await note(Date.UTC(2026, 2, 2, 12))).toBe("Closed now: a holiday. Opens 3 Mar 2026, 09:00.");
  expect(await note(Date.UTC(2026, 2, 3, 12))).toBe("");
  expect(await note(Date.UTC(2026, 1, 28, 12), { ...CALENDAR, isAssumed: true })).toBe("");
  expect(await note(Date.UTC(2026, 1, 28, 12), CALENDAR, false)).toBe("");
});
