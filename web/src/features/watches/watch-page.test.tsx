import type { WatchDetail, WatchPrompt } from "@plan-tester/contract";
import { act } from "react";
import { MemoryRouter, Route, Routes, useParams } from "react-router";
import { beforeEach, describe, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { click, control, press, refusal, serving, show, tall, type, unmeasured, withAnswers } from "../../testing.tsx";
import { WatchPage } from "./watch-page.tsx";
import { WatchesPage } from "./watches-page.tsx";

const NOW = Date.UTC(2026, 2, 2, 10);
const CLOCK = { nowMs: NOW, speed: 60, pace: 60, holds: true, connected: true, trouble: "" };
const OPTIONS = { mode: "automatic", asksExits: false, promptMinutes: 5, rounds: null, patienceSeconds: null, account: "" } as const;
const WATCH = {
  ...{ id: "w1", name: "Ebb fade", planId: "p1", planTitle: "Kelp ebb fade", state: "in position", endReason: "", isPaused: false },
  ...{ equity: 101_250, net: -40, netToday: 12, trades: 2, openProfit: 110, currency: "XSC", options: OPTIONS, inputs: { span: 20 } },
  ...{ lastPrice: 412.25, lastTimeMs: Date.UTC(2026, 2, 2, 9, 59), settings: { symbol: "KELP", timeframe: "15m", alsoOn: [] } },
  ...{ lagMs: 3, slowLagMs: 12, ageMs: 0, lastSignalMs: null, figures: [{ label: "Heat", value: 1.5, unit: "R" }] },
  alerts: { sent: 3, failed: 1 },
  positions: [{ symbol: "KELP", units: -2, entryPrice: 415, value: 8260, stop: 418, target: null, profit: 110, r: 1.83 }],
  workingOrders: [
    { id: 4, symbol: "KELP", side: 1, quantity: null, kind: "market", tag: "out", price: null },
    { id: 5, symbol: "KELP", side: -1, quantity: 1, kind: "limit", tag: "", price: 420.5 },
  ],
  ...{ prompts: [], newer: null, pending: null },
} as unknown as WatchDetail;
const TRADES = [
  {
    id: 1,
    symbol: "KELP",
    side: 1,
    quantity: 1,
    exitTime: Date.UTC(2026, 2, 1, 9),
    entryPrice: 410,
    exitPrice: 409,
    reason: "stop",
    net: -40,
    r: -1,
  },
  {
    id: 2,
    symbol: "KELP",
    side: 1,
    quantity: 1,
    exitTime: Date.UTC(2026, 2, 2, 9),
    entryPrice: 409,
    exitPrice: 410,
    reason: "target",
    net: 38,
    r: 2,
  },
];
const EVENTS = {
  total: 1,
  events: [
    {
      id: 9,
      timeMs: Date.UTC(2026, 2, 2, 9, 30),
      atMs: 1,
      kind: "error",
      by: "plan, line 12",
      level: "",
      text: "Line 12: nothing to divide.",
    },
  ],
};
const MARKETS = [{ instrument: { symbol: "KELP", decimals: 2, calendar: { zone: "UTC", isAssumed: true } } }];
const PROMPT: WatchPrompt = {
  ...{ orderId: 7, symbol: "KELP", side: "buy", intent: "enter", kind: "market", quantity: 2, price: null, tag: "ebb", line: 14 },
  ...{ stop: "40 ticks", target: "", risk: 200, sentMs: NOW - 60_000, barOverMs: NOW + 600_000, deadlineMs: NOW + 120_000 },
};

/** Which run is shown. */
const Opened = () => <p>run {useParams().runId}</p>;

const page = (more: object = {}, venue: object = CLOCK) => {
  const watch = { ...WATCH, ...more };
  return show(
    withAnswers(
      [
        [queries.watch("w1").queryKey, watch],
        [queries.watches().queryKey, [watch]],
        [queries.watchTrades("w1", 2).queryKey, TRADES],
        [queries.watchEvents("w1", { kind: "", search: "", level: "" }).queryKey, { pages: [EVENTS], pageParams: [0] }],
        [queries.holdings().queryKey, []],
        [queries.markets().queryKey, MARKETS],
        [queries.venue().queryKey, venue],
        [queries.plan("p1").queryKey, { id: "p1", source: "the new text" }],
      ],
      <MemoryRouter initialEntries={["/watches/w1"]}>
        <Routes>
          <Route path="/watches/:watchId" element={<WatchPage />} />
          <Route path="/watches" element={<WatchesPage />} />
          <Route path="/runs/:runId" element={<Opened />} />
        </Routes>
      </MemoryRouter>,
    ),
  );
};
const changes = (asked: ReturnType<typeof serving>) => asked.filter(({ what }) => !what.startsWith("GET"));
async function openTab(host: HTMLElement, words: string): Promise<void> {
  const tab = [...host.querySelectorAll<HTMLElement>("[role=tab]")].find(({ textContent }) => textContent!.startsWith(words))!;
  await act(async () => tab.dispatchEvent(new MouseEvent("mousedown", { bubbles: true, button: 0 })));
}
const buttons = (): string[] => [...document.querySelectorAll("button")].map(({ textContent }) => textContent!.trim());

beforeEach(() => {
  unmeasured();
  tall();
});

describe("the page of a watch", () => {
  test("says where it stands, with stop, target and profit; what has no price has a dash", async () => {
    const host = await page();
    const facts = Object.fromEntries(
      [...host.querySelectorAll("dt")].map((name) => [name.textContent, name.nextElementSibling!.textContent!.trim()]),
    );
    expect(facts).toMatchObject({
      ...{ Position: "short 2 KELP at 415.00", "Stop loss": "418.00", Target: "–", "Open profit": "+110 1.83 R", Equity: "101,250 XSC" },
      ...{ "Closed trades, net": "2 · −40", Lag: "3 ms95 % within 12 ms", Heat: "1.50 R", "Input span": "20" },
    });
    const orders = [...host.querySelectorAll("[aria-label='Working orders'] li")].map(({ textContent }) => textContent);
    expect(orders.slice(0, 2)).toEqual(["buy all market “out”at marketCancel", "sell 1 limit 420.50Cancel"]);
    expect(host.textContent).toContain("plan, line 12");
    expect(host.textContent).toContain("Line 12: nothing to divide.");
    await openTab(host, "Trades");
    // The newest trade first.
    expect(host.querySelector("[aria-label='Trades of the watch']")!.textContent).toMatch(/target.*stop/);
  });

  test("what happened is looked through by the level of the plan's log", async () => {
    const asked = serving((what) => (what.includes("/events") ? EVENTS : undefined));
    const host = await page();
    await openTab(host, "What happened");
    await type(control(host, "Least level of the log"), "warning");
    const wanted = (): string => asked.findLast(({ what }) => what.includes("/events"))?.what ?? "";
    await vi.waitFor(() => expect(wanted()).toMatch(/level=warning/));
    // Orders and fills have no level.
    await type(control(host, "Only one kind"), "fill");
    expect(host.querySelector("[aria-label='Least level of the log']")).toBeNull();
    await vi.waitFor(() => expect(wanted()).toMatch(/kind=fill/));
    expect(wanted()).not.toMatch(/level=warning/);
  });

  test("a position without a stop says so", async () => {
    const host = await page({ positions: [{ ...WATCH.positions[0], stop: null }] });
    expect([...host.querySelectorAll("dt")].find(({ textContent }) => textContent === "Stop loss")!.nextElementSibling!.textContent).toBe(
      "none",
    );
  });

  test("ended with something open it can still be closed; ended and flat it can only go", async () => {
    await page({ state: "ended", endReason: "stopped by the user" });
    expect(buttons()).toEqual(expect.arrayContaining(["Close position"]));
    expect(buttons()).not.toEqual(expect.arrayContaining(["Stop…"]));
    await page({ state: "ended", positions: [], workingOrders: [] });
    expect(buttons().filter((words) => ["Close position", "Stop…", "Pause", "Delete"].includes(words))).toEqual(["Delete"]);
  });

  test.each([
    ["Pause", "PATCH /watches/w1", { isPaused: true }],
    ["Close position", "POST /watches/w1/flatten", undefined],
    ["Cancel order 5", "DELETE /watches/w1/orders/5", undefined],
  ])("%s asks for that and no more", async (words, what, body) => {
    const asked = serving(() => ({ ...WATCH }));
    const host = await page();
    await click(
      [...host.querySelectorAll("button")].find((button) => (button.getAttribute("aria-label") ?? button.textContent) === words)!,
    );
    await vi.waitFor(() => expect(changes(asked).map((one) => one.what)).toEqual([what]));
    if (body) expect(changes(asked)[0]!.body).toEqual(body);
  });

  test.each([
    ["Close it now", "flatten"],
    ["Leave it with its protection", "protected"],
    ["Leave it bare", "bare"],
  ])("stopped with “%s” it asks what is open, says what that means, and does it", async (words, leaving) => {
    const asked = serving(() => ({ ...WATCH }));
    const host = await page();
    await press(host, "Stop…");
    const dialog = document.querySelector("[role=dialog]") as HTMLElement;
    expect(dialog.textContent).toContain("Open now: short 2 KELP, 2 working orders.");
    await click([...dialog.querySelectorAll("label")].find(({ textContent }) => textContent!.startsWith(words))!);
    await press(dialog, "Stop");
    await vi.waitFor(() => expect(changes(asked)).toEqual([{ what: "POST /watches/w1/stop", body: { leaving } }]));
  });

  test("is opened as the run that it was; a refusal leaves one where one is", async () => {
    let answer: unknown = refusal(409, "conflict", "No bar of 15m is over since the watch began.");
    const asked = serving((what) => (what === "POST /watches/w1/runs" ? answer : []));
    const host = await page();
    await press(host, "Open as run");
    expect(buttons()).toContain("Open as run");
    answer = { runId: "r1", backtestId: "r2" };
    await press(host, "Open as run");
    expect(host.textContent).toBe("run r1");
    expect(changes(asked).map(({ what }) => what)).toEqual(["POST /watches/w1/runs", "POST /watches/w1/runs"]);
  });

  test("a plan that was changed is taken now, when nothing is open, or not at all; what waits is said", async () => {
    const changed = { ...WATCH, newer: ["source: 2 lines new, 1 gone"] };
    const asked = serving((what) => (what === "GET /watches/w1" ? changed : what.startsWith("GET") ? [] : undefined));
    await page(changed);
    const banner = () => document.querySelector("[aria-label='The plan was changed']")!;
    expect(banner().textContent).toContain("source: 2 lines new, 1 gone");
    for (const words of ["Take it now", "When nothing is open", "Not this one"]) await press(document.body, words);
    expect(changes(asked)).toEqual(
      ["now", "when flat", "never"].map((when) => ({ what: "PUT /watches/w1/plan", body: { source: "the new text", when } })),
    );
    await page({ newer: ["source: order or spacing"], positions: [] });
    expect(buttons()).not.toContain("When nothing is open");
    await page({ pending: ["held 4 → 7"] });
    expect(document.querySelector("[aria-label='A version waits']")!.textContent).toContain("held 4 → 7");
  });

  test("its inputs are changed alone, now or when nothing is open", async () => {
    const spec = {
      name: "span",
      kind: "whole",
      default: 20,
      label: "Span",
      min: 1,
      max: 90,
      step: 1,
      unit: "",
      group: "",
      help: "",
      choices: [],
    };
    const asked = serving((what) =>
      what === "POST /describe"
        ? { title: "Kelp ebb fade", inputs: [spec] }
        : what === "GET /watches/w1"
          ? WATCH
          : what.startsWith("GET")
            ? []
            : undefined,
    );
    await page();
    await press(document.body, "Inputs");
    await vi.waitFor(() => expect(document.querySelector("[role=dialog]")!.textContent).toContain("Span"));
    const now = () => [...document.querySelectorAll("button")].find(({ textContent }) => textContent === "Take them now")!;
    expect(now().disabled).toBe(true);
    await type(control(document.body, "Span"), "30");
    await press(document.body, "Take them when nothing is open");
    expect(asked.filter(({ what }) => what.startsWith("PUT"))).toEqual([
      { what: "PUT /watches/w1/plan", body: { inputs: { span: 30 }, when: "when flat" } },
    ]);
  });

  test("an order that waits says what it would do and what silence does; it is accepted or declined", async () => {
    const asked = serving(() => ({ ...WATCH }));
    const host = await page({ prompts: [PROMPT], state: "waiting for you" });
    const words = host.querySelector("[aria-label='Waiting for you']")!.textContent!;
    expect(words).toContain("Ebb fade asks: buy 2 KELP at market “ebb”");
    expect(words).toContain("stop 40 ticks · 200 XSC at risk · line 14 · asked 1 min 0 s ago");
    expect(words).toContain("Unanswered it lapses in 2 min 0 s and is not sent");
    await press(host, "Decline Alt X");
    await vi.waitFor(() => expect(changes(asked)).toEqual([{ what: "POST /watches/w1/prompts/7", body: { accept: false, late: false } }]));
  });

  test("one that has outlived its bar is not accepted by mistake", async () => {
    const asked = serving(() => ({ ...WATCH }));
    const host = await page({ prompts: [{ ...PROMPT, barOverMs: NOW - 1 }] });
    expect(host.textContent).toContain("Its bar is over");
    await press(host, "Accept Alt A");
    expect(changes(asked)).toEqual([]);
    await press(host, "Send it late Alt A");
    await vi.waitFor(() => expect(changes(asked)).toEqual([{ what: "POST /watches/w1/prompts/7", body: { accept: true, late: true } }]));
  });

  test("a venue that is not reached, or can't write, is said; another speed is asked for, and a refusal changes nothing", async () => {
    expect((await page({}, { ...CLOCK, connected: false })).textContent).toContain("The practice venue is not reached");
    const asked = serving((what) => (what.startsWith("GET") ? CLOCK : refusal(503, "unavailable", "Not reached.")));
    const host = await page({}, { ...CLOCK, pace: 20, trouble: "The venue's state is not written down." });
    expect(host.querySelector("[role=alert]")?.textContent).toBe("The venue's state is not written down.");
    expect(host.textContent).toContain("20× of 60×");
    await press(host, "300×");
    await vi.waitFor(() => expect(changes(asked)).toEqual([{ what: "PUT /venue/clock", body: { speed: 300 } }]));
    const pressed = [...host.querySelectorAll("[aria-pressed=true]")].map(({ textContent }) => textContent);
    expect(pressed).toEqual(["60×"]);
  });
});

describe("the desk", () => {
  const other = {
    ...WATCH,
    id: "w2",
    name: "Tide turn",
    settings: { ...WATCH.settings, symbol: "TIDE" },
    state: "armed",
    positions: [],
    openProfit: 0,
    netToday: 8,
    alerts: { sent: 0, failed: 0 },
  };
  const desk = (holdings: readonly object[] = [], watches: readonly object[] = [WATCH, other]) =>
    show(
      withAnswers(
        [
          [queries.watches().queryKey, watches],
          [queries.holdings().queryKey, holdings],
          [queries.markets().queryKey, MARKETS],
          [queries.venue().queryKey, CLOCK],
        ],
        <MemoryRouter>
          <WatchesPage />
        </MemoryRouter>,
      ),
    );

  test("adds up what the watches come to, and finds one by its words", async () => {
    const host = await desk();
    expect(host.textContent).toMatch(/Open profit \+110 Today \+20 Closed −80 Exposure 8,260/);
    const alerts = [...host.querySelectorAll<HTMLAnchorElement>("[role=grid] a[href*=outcomes]")];
    expect(alerts.map(({ textContent, title }) => `${textContent} (${title})`)).toEqual(["3 + 1! (3 sent, 1 failed or left out)"]);
    expect(alerts[0]!.getAttribute("href")).toBe("/watches/alerts?tab=outcomes&watch=w1");
    expect(host.textContent).toContain("1 of 2 in position");
    await type(control(host, "Search watches"), "tide");
    expect(host.querySelector("[role=grid]")!.textContent).toContain("Tide turn");
    expect(host.querySelector("[role=grid]")!.textContent).not.toContain("Ebb fade");
  });

  test("adds up money of one currency only", async () => {
    const host = await desk([], [WATCH, { ...other, currency: "ORM", openProfit: 7 }]);
    expect(host.textContent).toMatch(/Open profit \+110 XSC\+7\.?0* ORM/);
  });

  test("a first word on an order of one watch is none on that of another with the same number", async () => {
    const prompts = [{ ...PROMPT, barOverMs: NOW - 1 }];
    const host = await desk(
      [],
      [
        { ...WATCH, prompts },
        { ...other, prompts },
      ],
    );
    await press(host, "Accept Alt A");
    expect(buttons().filter((words) => /^(Accept|Send it late)/.test(words))).toEqual(["Send it late Alt A", "Accept"]);
  });

  test("stops everything after one confirmation", async () => {
    const asked = serving(() => [WATCH]);
    const host = await desk();
    await press(host, "Stop everything Alt Shift S");
    expect(document.querySelector("[role=dialog]")!.textContent).toContain("1 watch holds a position");
    await press(document.querySelector("[role=dialog]") as HTMLElement, "Stop everything");
    await vi.waitFor(() => expect(changes(asked)).toEqual([{ what: "POST /watches/stop", body: { leaving: "flatten" } }]));
  });

  test("shows what is open at the venue and belongs to no watch, and closes it", async () => {
    const asked = serving(() => []);
    const host = await desk([{ account: "old", owner: "gone", positions: [{ symbol: "KELP", units: 3, entryPrice: 400 }], orders: 1 }]);
    expect(host.textContent).toContain("“old” holds what belongs to no watch: long 3 KELP at 400.00 and 1 order");
    await press(host, "Cancel and close it");
    await vi.waitFor(() => expect(changes(asked).map(({ what }) => what)).toEqual(["DELETE /venue/holdings/old/gone"]));
  });
});
