/** Dialogs of the Bench: what they ask of the server, and what they do when it refuses. */
import { type Market, PLAIN_SETTINGS, type RunEvidence } from "@plan-tester/contract";
import { createMemoryRouter, RouterProvider } from "react-router";
import { describe, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { click, control, press, refusal, serving, show, type, withAnswers } from "../../testing.tsx";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import type { WatchStart } from "../watches/watch-starts.ts";
import { BasketDialog } from "./basket-dialog.tsx";
import { KeepDialog } from "./keep-dialog.tsx";

const SETTINGS = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2025-02-28" };
const button = (words: string): HTMLButtonElement =>
  [...document.querySelectorAll("button")].find(({ textContent }) => textContent?.trim().startsWith(words))!;

describe("keeping a run", () => {
  const run = (kept: RunEvidence["kept"] = null) => ({ id: "r1", title: "Ebb fade", settings: SETTINGS, kept }) as RunEvidence;
  const open = async (kept: RunEvidence["kept"] = null) => {
    const told = { onClose: vi.fn<() => void>(), onKept: vi.fn<(kept: NonNullable<RunEvidence["kept"]>) => void>() };
    await show(<KeepDialog run={run(kept)} {...told} />);
    return told;
  };

  test("begins with a name that says what it is, and keeps it with its tags, each once", async () => {
    const asked = serving(() => ({ id: "r1" }));
    const { onClose, onKept } = await open();
    expect(control(document.body, "Name").value).toBe("Ebb fade, KELP 15m");
    await type(control(document.body, "Tags"), " night, slow,,night ");
    await press(document.body, "Keep");
    const kept = { name: "Ebb fade, KELP 15m", note: "", tags: ["night", "slow"] };
    expect(asked).toEqual([{ what: "PUT /runs/r1/keep", body: kept }]);
    expect(onKept).toHaveBeenCalledExactlyOnceWith(kept);
    expect(onClose).toHaveBeenCalledOnce();
  });

  test("of one that is kept begins with what it is called; without a name nothing is kept", async () => {
    const asked = serving(() => ({ id: "r1" }));
    await open({ name: "The good one", note: "after the mend", tags: ["a"] });
    expect(control(document.body, "Name").value).toBe("The good one");
    await type(control(document.body, "Name"), "   ");
    expect(button("Keep").disabled).toBe(true);
    expect(asked).toEqual([]);
  });

  test("stays open with what was written where the server refuses", async () => {
    serving(() => refusal(507, "disk-full", "The disk is full."));
    const { onClose, onKept } = await open();
    await type(control(document.body, "Name"), "Written with care");
    await press(document.body, "Keep");
    expect([onClose, onKept].map((told) => told.mock.calls.length)).toEqual([0, 0]);
    expect(control(document.body, "Name").value).toBe("Written with care");
    expect(button("Keep").disabled).toBe(false);
  });
});

describe("a basket", () => {
  const market = (symbol: string, kind: string): Market => ({ instrument: { symbol, name: `${symbol} itself`, class: kind } }) as Market;
  const markets = [market("KELP", "future"), market("BRIN", "future"), market("AUKL", "share")];
  const open = async () => {
    const told = { onClose: vi.fn<() => void>(), onStart: vi.fn<(symbols: readonly string[]) => void>() };
    await show(<BasketDialog title="Ebb fade" symbol="KELP" markets={markets} {...told} />);
    return told;
  };

  test("is all instruments at first, a class of them, one, or those that are ticked", async () => {
    const { onStart, onClose } = await open();
    expect(button("Start").textContent).toBe("Start 3 runs");
    await press(document.body, "Every share");
    expect(button("Start").textContent).toBe("Start 1 run");
    await press(document.body, "Only KELP");
    await click(control(document.body, "BRIN"));
    await press(document.body, "Start");
    expect(onStart).toHaveBeenCalledExactlyOnceWith(["KELP", "BRIN"]);
    expect(onClose).toHaveBeenCalledOnce();
  });

  test("of nothing can't be started", async () => {
    await open();
    await press(document.body, "Only KELP");
    await click(control(document.body, "KELP"));
    expect(button("Start").disabled).toBe(true);
  });
});

describe("setting a plan to watch", () => {
  const draft = { source: "export default plan({})", inputs: { span: 3 }, settings: SETTINGS };
  const starts: readonly WatchStart[] = [
    { ...draft, key: "draft", planId: "p1", name: "Ebb fade", from: "As it is on the Bench" },
    { ...draft, key: "v1", planId: "p1", name: "Ebb fade, slow", from: "slow", inputs: { span: 9 } },
  ];
  const kelp = { instrument: { symbol: "KELP", currency: "XSC", minQuantity: 2, quantityStep: 2 }, timeframe: "1m" };
  const setup = {
    ...{ revision: 2, perMinute: 20, allowsPrivate: false, quiet: { isOn: false } },
    channels: [{ id: "mail", name: "My e-mail", isOn: true, kind: "e-mail" }],
    rules: [{ id: "all", isOn: true, watchId: null, events: ["error"], leastLevel: "info", channels: ["mail"] }],
  };
  const open = async (count = 1) => {
    const onClose = vi.fn<() => void>();
    const dialog = <WatchDialog title="Ebb fade" starts={starts.slice(0, count)} chosenFirst={1} onClose={onClose} />;
    const router = createMemoryRouter([
      {
        path: "/",
        element: withAnswers(
          [
            [["listMarkets"], [kelp]],
            [queries.alerts().queryKey, { setup, withSecret: [] }],
          ],
          dialog,
        ),
      },
      { path: "*", element: null },
    ]);
    await show(<RouterProvider router={router} />);
    return { onClose, wentTo: () => router.state.location.pathname };
  };

  test("says where it will trade and with what, and starts the draft as it is", async () => {
    const asked = serving(() => ({ id: "w1" }));
    const { wentTo, onClose } = await open();
    expect(document.body.textContent).toMatch(/runs on KELP in 15 min bars with 100,000 crowns/);
    expect(document.body.textContent).toContain("Inputs: span 3");
    await press(document.body, "Start watching");
    expect(asked).toMatchObject([
      { what: "POST /watches", body: { planId: "p1", ...draft, name: "Ebb fade", options: { mode: "automatic" } } },
    ]);
    expect(wentTo()).toBe("/watches/w1");
    expect(onClose).toHaveBeenCalledOnce();
  });

  test("runs with other inputs where they are changed, and is told of through the channels that are chosen", async () => {
    const asked = serving((what) => {
      if (what === "POST /describe")
        return { inputs: [{ name: "span", label: "Span", kind: "whole", default: 5, min: 1, max: 50, group: "" }] };
      return what === "PUT /alerts" ? { setup, withSecret: [] } : { id: "w1" };
    });
    await open();
    expect(document.body.textContent).toContain("1 rule for every watch goes on top.");
    await press(document.body, "Change");
    await vi.waitFor(() => control(document.body, "Span"));
    await type(control(document.body, "Span"), "8");
    await click(document.querySelector('[aria-label="Channels: no channel"]')!);
    await click(control(document.body, "My e-mail"));
    await press(document.body, "Start watching");
    const made = asked.find(({ what }) => what === "POST /watches");
    expect(made?.body).toMatchObject({ inputs: { span: 8 } });
    const { rules } = asked.find(({ what }) => what === "PUT /alerts")!.body as { rules: object[] };
    expect(rules).toMatchObject([{ id: "all" }, { watchId: "w1", isOn: true, channels: ["mail"] }]);
  });

  test("lays the size and the limits of its entries over the plan as a kit, which a backtest can take as well", async () => {
    const asked = serving(() => ({ id: "w1" }));
    await open();
    expect(document.body.textContent).toContain("At least 2, in steps of 2");
    await type(control(document.body, "Units of each entry"), "4");
    await type(control(document.body, "Entries at a limit"), "3");
    await type(control(document.body, "Limits work for, bars"), "5");
    await press(document.body, "Start watching");
    const kit = { plansExits: true, size: { by: "units", value: 4 }, entryLimit: { ticks: 3, bars: 5 } };
    expect(asked[0]!.body).toMatchObject({ settings: { kit } });
  });

  test("can be done for variants beside it, each a watch of its own; one that is refused leaves the others to be tried", async () => {
    let answered = 0;
    const asked = serving(() =>
      ++answered === 2 ? refusal(503, "unavailable", "The practice venue is not reached.") : { id: `w${answered}` },
    );
    const { wentTo } = await open(2);
    await click(control(document.body, "slow"));
    await press(document.body, "Start 2 watches");
    expect(asked.map(({ body }) => (body as { inputs: object }).inputs)).toEqual([{ span: 3 }, { span: 9 }]);
    // Only the one that was refused is chosen still.
    expect(button("Start watching").disabled).toBe(false);
    await press(document.body, "Start watching");
    expect(asked[2]!.body).toMatchObject({ inputs: { span: 9 }, name: "Ebb fade, slow" });
    expect(wentTo()).toBe("/watches/w3");
  });

  test("in another mode it says what that means, and what was chosen is there the next time", async () => {
    const asked = serving(() => ({ id: "w1" }));
    await open();
    await type(control(document.body, "Mode"), "ask first");
    expect(document.body.textContent).toContain("Each entry waits for your word and lapses if you give none");
    await type(control(document.body, "Rounds"), "3");
    await press(document.body, "Start watching");
    expect(asked[0]!.body).toMatchObject({ options: { mode: "ask first", rounds: 3, account: "" } });
    await open();
    expect(control(document.body, "Rounds").value).toBe("3");
  });

  test("says what becomes of a refused entry, how often it is sent again, and what something else opens", async () => {
    const asked = serving(() => ({ id: "w1" }));
    await open();
    expect(document.querySelector('[aria-label="Times that an entry is sent again"]')).toBeNull();
    await type(control(document.body, "If the venue refuses an entry"), "retry");
    await type(control(document.body, "Times that an entry is sent again"), "7");
    await type(control(document.body, "If the venue refuses an exit"), "retry");
    await type(control(document.body, "If something else opens a position"), "flatten");
    await press(document.body, "Start watching");
    const made = asked.find(({ what }) => what === "POST /watches");
    expect(made?.body).toMatchObject({
      options: { onEntryRefused: "retry", entryRetries: 7, onExitRefused: "retry", onUnknown: "flatten" },
    });
    // No channel was chosen: no rule is made.
    expect(asked.some(({ what }) => what === "PUT /alerts")).toBe(false);
  });

  test("an account's name that the venue would refuse is not sent", async () => {
    const asked = serving(() => ({ id: "w1" }));
    await open();
    await type(control(document.body, "Account at the venue"), "my account");
    await press(document.body, "Start watching");
    expect(asked).toEqual([]);
  });

  test("that is refused stays open, to be tried again", async () => {
    serving(() => refusal(503, "unavailable", "The practice venue is not reached."));
    const { wentTo, onClose } = await open();
    await press(document.body, "Start watching");
    expect(onClose).not.toHaveBeenCalled();
    expect(wentTo()).toBe("/");
    expect(button("Start watching").disabled).toBe(false);
  });
});
