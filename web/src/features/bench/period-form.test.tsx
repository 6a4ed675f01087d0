import { PLAIN_SETTINGS, type RunSettings } from "@plan-tester/contract";
import { useState } from "react";
import { expect, test } from "vitest";
import { press, show } from "../../testing.tsx";
import { periodWords, useMovingPeriod } from "./period-form.tsx";

const SETTINGS: RunSettings = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "1h", from: "2024-03-01", to: "2025-02-28" };

/** Data to which a day may come, and a holdout that may be made. */
function Page({ period }: { readonly period: string | null }) {
  const [settings, setSettings] = useState<RunSettings>({ ...SETTINGS, period });
  const [lastDate, setLast] = useState("2026-02-27");
  const [reservedFrom, reserve] = useState("");
  useMovingPeriod(settings, { firstDate: "2023-03-01", lastDate }, reservedFrom, (part) => setSettings(part.settings));
  return (
    <>
      <output>{`${settings.from} ${settings.to} ${settings.period}`}</output>
      <button type="button" onClick={() => setLast("2026-03-02")}>
        a day comes
      </button>
      <button type="button" onClick={() => reserve("2025-09-01")}>
        hold out
      </button>
    </>
  );
}

test("days of a moving period follow the data, and stay ahead of what is held out; fixed ones stay", async () => {
  const host = await show(<Page period="last 3 months" />);
  const days = () => host.querySelector("output")!.textContent;
  expect(days()).toBe("2025-11-28 2026-02-27 last 3 months");
  await press(host, "a day comes");
  expect(days()).toBe("2025-12-03 2026-03-02 last 3 months");
  await press(host, "hold out");
  expect(days()).toBe("2025-06-01 2025-08-31 last 3 months");
  const fixed = await show(<Page period={null} />);
  await press(fixed, "a day comes");
  expect(fixed.querySelector("output")!.textContent).toBe("2024-03-01 2025-02-28 null");
});

test("each is said as it stands ahead of the days", () => {
  expect([null, undefined, "all", "to the end", "last 1 months", "last 2 years"].map(periodWords)).toEqual([
    ...["from", "from", "of all there is,", "up to the end of the data, from", "of the last month,", "of the last 2 years,"],
  ]);
});
