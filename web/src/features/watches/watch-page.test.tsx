import type { WatchDetail } from "@plan-tester/contract";
import { MemoryRouter, Route, Routes } from "react-router";
import { describe, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { click, press, refusal, serving, show, withAnswers } from "../../testing.tsx";
import { WatchPage } from "./watch-page.tsx";

const CLOCK = { nowMs: Date.UTC(2026, 2, 2, 10), speed: 60, connected: true, trouble: "" };
const WATCH = {
  ...{ id: "w1", planId: "p1", planTitle: "Ebb fade", state: "in position", endReason: "", equity: 101_250, net: -40, trades: 1 },
  ...{ lastPrice: 412.25, lastTimeMs: Date.UTC(2026, 2, 2, 9, 59), settings: { symbol: "KELP", timeframe: "15m" } },
  position: { units: -2, entryPrice: 415, stop: 418, target: null, profit: 110 },
  workingOrders: [
    { id: 4, side: 1, quantity: null, kind: "market", tag: "out", price: Number.NaN },
    { id: 5, side: -1, quantity: 1, kind: "limit", tag: "", price: 420.5 },
  ],
  closed: [
    { id: 1, side: 1, quantity: 1, exitTime: Date.UTC(2026, 2, 1, 9), entryPrice: 410, exitPrice: 409, reason: "stop", net: -40 },
    { id: 2, side: 1, quantity: 1, exitTime: Date.UTC(2026, 2, 2, 9), entryPrice: 409, exitPrice: 410, reason: "target", net: 38 },
  ],
  events: [{ id: 9, timeMs: Date.UTC(2026, 2, 2, 9, 30), kind: "error", text: "Line 12: nothing to divide." }],
} as unknown as WatchDetail;
const MARKETS = [{ instrument: { symbol: "KELP", decimals: 2, calendar: { zone: "UTC" } } }];

const page = (more: object = {}, venue: object = CLOCK) =>
  show(
    withAnswers(
      [
        [queries.watch("w1").queryKey, { ...WATCH, ...more }],
        [queries.markets().queryKey, MARKETS],
        [queries.venue().queryKey, venue],
      ],
      <MemoryRouter initialEntries={["/watches/w1"]}>
        <Routes>
          <Route path="/watches/:watchId" element={<WatchPage />} />
        </Routes>
      </MemoryRouter>,
    ),
  );
const changes = (asked: ReturnType<typeof serving>) => asked.filter(({ what }) => !what.startsWith("GET")).map(({ what }) => what);

describe("the page of a watch", () => {
  test("says where it stands, with stop, target and profit; what has no price has a dash", async () => {
    const host = await page();
    const facts = Object.fromEntries(
      [...host.querySelectorAll("dt")].map((name) => [name.textContent, name.nextElementSibling!.textContent!.trim()]),
    );
    expect(facts).toMatchObject({
      Position: "short 2 at 415.00",
      "Stop loss": "418.00",
      Target: "–",
      "Open profit": "+110",
      Equity: "101,250",
    });
    expect(facts["Closed trades, net"]).toBe("1 · −40");
    const orders = [...host.querySelectorAll("section li")].map(({ textContent }) => textContent);
    expect(orders.slice(0, 2)).toEqual(["buy all market “out”at market", "sell 1 limit 420.50"]);
    expect(host.textContent).toContain("Line 12: nothing to divide.");
    // The newest trade first.
    expect([...host.querySelectorAll("tbody tr")].map((row) => row.children[4]!.textContent)).toEqual(["target", "stop"]);
  });

  test("flat it has no position; ended it says why, and nothing can be asked of it", async () => {
    const host = await page({ position: null, state: "ended", endReason: "stopped by the user" });
    expect([...host.querySelectorAll("dt")].map(({ textContent }) => textContent)).not.toContain("Position");
    expect(host.textContent).toContain("stopped by the user");
    expect([...host.querySelectorAll("button")].some(({ textContent }) => /Flatten|Stop/.test(textContent!))).toBe(false);
  });

  test.each([
    ["Flatten and stop", "POST /watches/w1/stop?flatten=true"],
    ["Flatten", "POST /watches/w1/flatten"],
    ["Stop", "POST /watches/w1/stop"],
  ])("%s asks for that and no more", async (words, what) => {
    const asked = serving(() => ({ ...WATCH }));
    const host = await page();
    await click([...host.querySelectorAll("button")].find(({ textContent }) => textContent === words)!);
    await vi.waitFor(() => expect(changes(asked)).toEqual([what]));
  });

  test("a venue that is not reached, or can't write, is said; another speed is asked for, and a refusal changes nothing", async () => {
    expect((await page({}, { ...CLOCK, connected: false })).textContent).toContain("The practice venue is not reached");
    const asked = serving((what) => (what.startsWith("GET") ? CLOCK : refusal(503, "unavailable", "Not reached.")));
    const host = await page({}, { ...CLOCK, trouble: "The venue's state is not written down." });
    expect(host.querySelector("[role=alert]")?.textContent).toBe("The venue's state is not written down.");
    await press(host, "300×");
    await vi.waitFor(() => expect(changes(asked)).toEqual(["PUT /venue/speed"]));
    const pressed = [...host.querySelectorAll("[aria-pressed=true]")].map(({ textContent }) => textContent);
    expect(pressed).toEqual(["60×"]);
  });
});
