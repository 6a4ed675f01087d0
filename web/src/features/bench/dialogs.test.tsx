/** Dialogs of the Bench: what they ask of the server, and what they do when it refuses. */
import { type Market, PLAIN_SETTINGS, type RunEvidence } from "@plan-tester/contract";
import { describe, expect, test, vi } from "vitest";
import { click, control, press, refusal, serving, show, type } from "../../testing.tsx";
import { WatchDialog } from "../watches/watch-dialog.tsx";
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
  const open = async (source = draft.source) => {
    const told = { onClose: vi.fn<() => void>(), onStarted: vi.fn<(id: string) => void>() };
    await show(<WatchDialog planId="p1" title="Ebb fade" draft={{ ...draft, source }} {...told} />);
    return told;
  };

  test("says where it will trade and with what, and starts the draft as it is", async () => {
    const asked = serving(() => ({ id: "w1" }));
    const { onStarted } = await open();
    expect(document.body.textContent).toMatch(/On KELP in 15 min bars with 100,000 crowns/);
    await press(document.body, "Start watching");
    expect(asked).toEqual([{ what: "POST /watches", body: { planId: "p1", ...draft } }]);
    expect(onStarted).toHaveBeenCalledExactlyOnceWith("w1");
  });

  test("names what of the plan a watch does not do, and says nothing of it where there is none", async () => {
    await open();
    expect(document.querySelector("[role=alert]")).toBeNull();
    await open('on.opened((lot) => exitAll()); on.end(() => log("over")); season.price = 3; on.priced;');
    expect(document.querySelector("[role=alert]")?.textContent).toMatch(/^On a watch on\.opened, on\.end do not act yet/);
    await open("on.start(() => log(1))");
    expect(document.querySelector("[role=alert]")?.textContent).toMatch(/^On a watch on\.start does not act yet/);
  });

  test("that is refused stays open, to be tried again", async () => {
    serving(() => refusal(503, "unavailable", "The practice venue is not reached."));
    const { onStarted, onClose } = await open();
    await press(document.body, "Start watching");
    expect([onStarted, onClose].map((told) => told.mock.calls.length)).toEqual([0, 0]);
    expect(button("Start watching").disabled).toBe(false);
  });
});
