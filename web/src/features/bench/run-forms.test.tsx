/** The forms of a run: the exit kit laid over a plan, and the account that it trades on. */
import { type Market, PLAIN_SETTINGS, type RunSettings } from "@plan-tester/contract";
import { EMPTY_KIT, type ExitKit, NO_EXITS } from "@plan-tester/core";
import { act } from "react";
import { afterEach, describe, expect, test, vi } from "vitest";
import { keyOf } from "../../data/keys.ts";
import { click, control, drag, hold, keyOn, press, type, withAnswers } from "../../testing.tsx";
import { AccountForm, accountWords } from "./account-form.tsx";
import { KitForm, kitWords } from "./kit-form.tsx";
import { FIRST_TEST_POSITION, TestPositionForm, testPositionWords } from "./test-position-form.tsx";

const SETTINGS: RunSettings = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" };
const held = (first: Partial<RunSettings>, form: (settings: RunSettings, set: (change: Partial<RunSettings>) => void) => React.ReactNode) =>
  hold<RunSettings>({ ...SETTINGS, ...first }, (value, onChange) => form(value, (change) => onChange({ ...value, ...change })));

describe("the exit kit", () => {
  const shown = (first: Partial<RunSettings> = {}) =>
    held(first, (settings, set) => withAnswers([[keyOf("listKits"), []]], <KitForm settings={settings} markets={[]} set={set} />));
  afterEach(() => vi.unstubAllGlobals());

  test("is none at first, begins empty, and comes off again", async () => {
    const form = await shown();
    expect(kitWords(form.value())).toBe("no exit kit");
    await press(form.host, "New kit");
    expect(form.value().kit).toEqual({ ...EMPTY_KIT, name: "My kit" });
    expect(kitWords(form.value())).toBe("My kit");
    await press(form.host, "Remove");
    expect(form.value().kit).toBeNull();
  });

  test("gives both sides the same exits", async () => {
    const form = await shown({ kit: { ...EMPTY_KIT, name: "Mine" } });
    await type(control(form.host, "Stop loss"), "40");
    await type(control(form.host, "Target"), "2");
    await type(control(form.host, "Target, unit"), "R");
    await type(control(form.host, "Time limit"), "12");
    await type(control(form.host, "Break-even after"), "20");
    const exits = {
      ...NO_EXITS,
      stopLoss: { unit: "ticks", value: 40 },
      target: { unit: "R", value: 2 },
      breakEven: { after: { unit: "ticks", value: 20 }, keep: { unit: "points", value: 0 } },
      timeLimit: { bars: 12 },
    };
    expect(form.value().kit).toMatchObject({ long: exits, short: exits });
    await type(control(form.host, "Stop loss"), "");
    expect(form.value().kit!.long!.stopLoss).toBeNull();
  });

  test("a trailing stop keeps when it starts and how it steps while its distance changes", async () => {
    const trail = {
      distance: { unit: "ticks", value: 30 },
      after: { unit: "ticks", value: 50 },
      step: { unit: "ticks", value: 5 },
    } as const;
    const exits = { ...NO_EXITS, trail };
    const form = await shown({ kit: { ...EMPTY_KIT, long: exits, short: exits } });
    await type(control(form.host, "Trail"), "25");
    expect(form.value().kit!.short!.trail).toEqual({ ...trail, distance: { unit: "ticks", value: 25 } });
  });

  test("limits entries; an empty field means no limit, and a limit of nothing is no limit", async () => {
    const form = await shown({ kit: EMPTY_KIT });
    await type(control(form.host, "Entries per session"), "2");
    await type(control(form.host, "Cool-down bars after a loss"), "6");
    await type(control(form.host, "Most lost in a session"), "500");
    await type(control(form.host, "Sides"), "long");
    await type(control(form.host, "Positions"), "one");
    await type(control(form.host, "Entries only while"), "atr(14) < 3");
    await click(control(form.host, "The plan's own exits stay"));
    expect(form.value().kit).toMatchObject({
      ...{ entriesPerSession: 2, coolDownBars: 6, dailyLoss: 500, sides: "long", onePosition: true, filter: "atr(14) < 3" },
      plansExits: !EMPTY_KIT.plansExits,
    });
    await type(control(form.host, "Most lost in a session"), "0");
    expect(form.host.querySelector("[role=alert]")?.textContent).toBe("Write a number above 0, or nothing.");
    expect(form.value().kit).toMatchObject({ dailyLoss: 500 });
    await type(control(form.host, "Most lost in a session"), "");
    await type(control(form.host, "Entries per session"), "");
    expect(form.value().kit).toMatchObject({ dailyLoss: null, entriesPerSession: null });
  });

  test("limits what is lost and says what happens then; its filter has a switch", async () => {
    const form = await shown({ kit: EMPTY_KIT });
    expect(control(form.host, "Once that is lost").matches(":disabled")).toBe(true);
    await type(control(form.host, "Most drawdown"), "12");
    await type(control(form.host, "Once that is lost"), "flatten");
    expect(form.value().kit).toMatchObject({ drawdown: { unit: "percent", value: 12 }, atLimit: "flatten" });
    await type(control(form.host, "Drawdown in"), "money");
    expect(form.value().kit!.drawdown).toEqual({ unit: "money", value: 12 });
    await type(control(form.host, "Most drawdown"), "");
    expect(form.value().kit!.drawdown).toBeNull();
    await type(control(form.host, "Largest size"), "4");
    expect(form.value().kit!.maxQuantity).toBe(4);
    await type(control(form.host, "Largest size"), "");
    expect(form.value().kit!.maxQuantity).toBeNull();
    expect(control(form.host, "on").matches(":disabled")).toBe(true);
    await type(control(form.host, "Entries only while"), "atr(14) < 3");
    await click(control(form.host, "on"));
    expect(form.value().kit).toMatchObject({ filter: "atr(14) < 3", isFilterOff: true });
  });

  test("has exits for each side on its own, or the long ones for both", async () => {
    const long = { ...NO_EXITS, stopLoss: { unit: "ticks" as const, value: 30 } };
    const form = await shown({ kit: { ...EMPTY_KIT, long, short: NO_EXITS } });
    await type(control(form.host, "Short: stop loss"), "12");
    expect(form.value().kit).toMatchObject({ long, short: { stopLoss: { unit: "ticks", value: 12 } } });
    await type(control(form.host, "Sides"), "short");
    expect(form.value().kit).toMatchObject({ long, sides: "short" });
    await click(control(form.host, "The same exits for longs and shorts"));
    expect(form.value().kit).toMatchObject({ long, short: long });
    expect(control(form.host, "Stop loss").value).toBe("30");
  });

  test("has a ladder of locks, each with what it keeps, a loss too", async () => {
    const form = await shown({ kit: { ...EMPTY_KIT, name: "Ladder" } });
    await press(form.host, "Add a lock");
    await press(form.host, "Add a lock");
    await type(control(form.host, "Lock 2: after a profit of"), "2");
    await type(control(form.host, "Lock 2 keeps"), "-4");
    const first = { after: { unit: "R", value: 1 }, keep: { unit: "points", value: 0 } };
    const second = { after: { unit: "R", value: 2 }, keep: { unit: "points", value: -4 } };
    expect(form.value().kit!.long!.locks).toEqual([first, second]);
    await press(form.host, "Remove lock 1");
    expect(form.value().kit!.short!.locks).toEqual([second]);
  });

  test("limits time by bars or minutes", async () => {
    const form = await shown({ kit: { ...EMPTY_KIT, name: "Timed" } });
    await type(control(form.host, "Time limit"), "90");
    await type(control(form.host, "counted in"), "minutes");
    expect(form.value().kit!.long!.timeLimit).toEqual({ minutes: 90 });
  });

  test("that is loaded over another shows its own numbers", async () => {
    const kitOf = (value: number): ExitKit => {
      const exits = { ...NO_EXITS, stopLoss: { unit: "ticks" as const, value } };
      return { ...EMPTY_KIT, long: exits, short: exits };
    };
    vi.stubGlobal("fetch", () => Promise.resolve(Response.json(kitOf(77))));
    const form = await shown({ kit: kitOf(30) });
    expect(control(form.host, "Stop loss").value).toBe("30");
    const file = control(form.host, "Exit kit file") as HTMLInputElement;
    Object.defineProperty(file, "files", { value: [new File(["{}"], "kit.json")], configurable: true });
    file.dispatchEvent(new Event("change", { bubbles: true }));
    await vi.waitFor(async () => {
      await act(async () => undefined);
      expect(form.value().kit!.long!.stopLoss!.value).toBe(77);
    });
    expect(control(form.host, "Stop loss").value).toBe("77");
  });

  test("sets sizes and windows, and leaves them to the plan again", async () => {
    const form = await shown({ kit: EMPTY_KIT });
    await type(control(form.host, "Size"), "risk percent");
    await type(control(form.host, "Amount"), "0.5");
    await type(control(form.host, "Longs are entered"), "clock");
    await type(control(form.host, "Shorts are entered"), "bars");
    expect(form.value().kit).toMatchObject({
      size: { by: "risk percent", value: 0.5 },
      longWindow: { by: "clock", from: "09:00", to: "16:00" },
      shortWindow: { by: "bars", from: 1, to: 20 },
    });
    await type(control(form.host, "Size"), "");
    await type(control(form.host, "Longs are entered"), "any");
    expect(form.value().kit).toMatchObject({ size: null, longWindow: null });
  });

  test("a test position has a word of its own beside the kit", async () => {
    expect(kitWords(SETTINGS)).toBe("no exit kit");
    expect(testPositionWords(FIRST_TEST_POSITION)).toBe("long 1 unit from the first bar");
    const form = await held({ testPosition: FIRST_TEST_POSITION }, (settings, set) =>
      settings.testPosition ? <TestPositionForm position={settings.testPosition} set={set} /> : null,
    );
    await type(control(form.host, "Test position"), "-1");
    await type(control(form.host, "units"), "3");
    await type(control(form.host, "at bar, 0 the first"), "20");
    expect(form.value().testPosition).toEqual({ side: -1, bar: 20, units: 3 });
    expect(testPositionWords(form.value().testPosition!)).toBe("short 3 units from bar 20");
    await press(form.host, "Remove");
    expect(form.value().testPosition).toBeNull();
  });

  test("says what distances mean at the last close, and draws both sides", async () => {
    const instrument = { symbol: "KELP", currency: "XSC", tickSize: 0.25, pipSize: 0.25, pointValue: 20, decimals: 2 };
    const length = 30;
    const column = (value: number): Float64Array => new Float64Array(length).fill(value);
    const time = Float64Array.from({ length }, (_none, i) => Date.UTC(2024, 2, 1, 9) + i * 900_000);
    const columns = {
      time,
      closeTime: time.map((ms) => ms + 900_000),
      open: column(400),
      high: column(403),
      low: column(397),
      close: column(400),
    };
    const bars = {
      meta: { timeframe: "15m", zone: "UTC", dates: ["2024-03-01"] },
      columns: { ...columns, volume: column(10), session: column(0) },
    };
    const { symbol, timeframe, from, to } = SETTINGS;
    const exits = {
      ...NO_EXITS,
      stopLoss: { unit: "points" as const, value: 2, study: "atr(14)" },
      target: { unit: "R" as const, value: 1.5 },
    };
    const kit = { ...EMPTY_KIT, long: exits, short: exits };
    const form = await hold<RunSettings>({ ...SETTINGS, kit }, (value, onChange) =>
      withAnswers(
        [
          [keyOf("listKits"), []],
          [keyOf("getBars", { symbol, timeframe, from, to }), bars],
        ],
        <KitForm settings={value} markets={[{ instrument } as Market]} set={(change) => onChange({ ...value, ...change })} />,
      ),
    );
    // An ATR of 6 twice, and one and a half times that.
    expect(form.host.textContent).toContain("12.00, 240 XSC a unit");
    expect(form.host.textContent).toContain("18.00, 360 XSC a unit");
    const pictures = () => [...form.host.querySelectorAll("figure [role=group]")].map((picture) => picture.getAttribute("aria-label"));
    expect(pictures()).toEqual([
      "Long: long at 400.00; stop loss −240 at 388.00; target +360 at 418.00",
      "Short: short at 400.00; stop loss −240 at 412.00; target +360 at 382.00",
    ]);

    // A tick by a key, ten with Shift; both sides have the same exits.
    const handle = (label: string): HTMLElement => form.host.querySelector(`[role=slider][aria-label="${label}"]`)!;
    await keyOn(handle("long: stop loss"), "ArrowUp", { shiftKey: true });
    expect(form.value().kit).toMatchObject({
      long: { stopLoss: { value: 1.58333, study: "atr(14)" } },
      short: { stopLoss: { value: 1.58333 } },
    });
    expect(pictures()[0]).toContain("stop loss −190 at 390.50");
    // The target is drawn at 414.25, the stop of the short at 409.5, its target at 385.75, in 172 of the picture's 200.
    await drag(handle("long: target"), { clientY: 14 }, { clientY: 14 + 43 });
    expect(form.value().kit).toMatchObject({ long: { target: { unit: "R", value: 0.763157 } }, short: { target: { value: 0.763157 } } });
    expect(pictures()[0]).toContain("target +145 at 407.25");
    // Beyond the entry it stops a tick before it.
    await drag(handle("long: target"), { clientY: 14 }, { clientY: 180 });
    expect(pictures()[0]).toContain("target +5.00 at 400.25");

    await type(control(form.host, "Stop loss, study"), "nothing(");
    expect(pictures()).toEqual([]);
  });
});

describe("the account", () => {
  const market = (symbol: string, currency: string): Market => ({ instrument: { symbol, currency } }) as Market;
  const markets = [market("KELP", "XSC"), market("PUFF", "USD"), market("GANN", "XSC")];
  const shown = (first: Partial<RunSettings> = {}) =>
    held(first, (settings, set) => <AccountForm settings={settings} markets={markets} set={set} />);

  test.each<[Partial<RunSettings>, string]>([
    [{}, "a cash account without limits"],
    [{ positions: "independent", basis: "bid" }, "independent lots, bid prices"],
    [{ margin: { by: "leverage", value: 20, maintenancePercent: 50 } }, "leverage 20"],
    [{ margin: { by: "unit", value: 900, maintenancePercent: 50 }, maxPositions: 3 }, "margin 900 per unit, at most 3 positions"],
    [
      { limits: { drawdown: { unit: "percent", value: 20, act: "stop" }, dailyLoss: { unit: "money", value: 500, act: "flatten" } } },
      "daily loss limit 500 (flat for the day), drawdown limit 20 % (stop)",
    ],
    [{ throughTicks: 1, maxQuantity: 5 }, "limits traded through by 1, at most 5 units"],
  ])("%j is said as %s", (change, words) => {
    expect(accountWords({ ...SETTINGS, ...change })).toBe(words);
  });

  test("margin begins with a number that fits its kind, and can't be nothing or above all of it", async () => {
    const form = await shown();
    expect(control(form.host, "Maintenance, % of margin").hasAttribute("disabled")).toBe(true);
    await type(control(form.host, "Margin"), "leverage");
    expect(form.value().margin).toEqual({ by: "leverage", value: 10, maintenancePercent: 50 });
    await type(control(form.host, "Leverage"), "0");
    await type(control(form.host, "Maintenance, % of margin"), "140");
    expect(form.value().margin).toEqual({ by: "leverage", value: 10, maintenancePercent: 50 });
    await type(control(form.host, "Leverage"), "30");
    await type(control(form.host, "Maintenance, % of margin"), "75");
    expect(form.value().margin).toEqual({ by: "leverage", value: 30, maintenancePercent: 75 });
    await type(control(form.host, "Margin"), "unit");
    expect(control(form.host, "Margin per unit").value).toBe("1000");
    await type(control(form.host, "Margin"), "none");
    expect(form.value().margin).toBeNull();
  });

  test("a limit on losses begins with a number, says what it does, and leaves nothing behind when it is taken away", async () => {
    const form = await shown();
    expect(form.value().limits).toBeUndefined();
    await type(control(form.host, "Daily loss limit"), "money");
    await type(control(form.host, "Lost at most"), "450");
    await type(control(form.host, "Once it is hit"), "stop");
    expect(form.value().limits).toEqual({ drawdown: null, dailyLoss: { unit: "money", value: 450, act: "stop" } });
    await type(control(form.host, "Lost at most"), "-3");
    expect(form.host.querySelector("[role=alert]")?.textContent).toMatch(/above 0/);
    await type(control(form.host, "Daily loss limit"), "none");
    expect("limits" in JSON.parse(JSON.stringify(form.value()))).toBe(false);
  });

  test("asks for the rate of each currency that is not its own, and for no other", async () => {
    expect((await shown({ alsoOn: ["GANN"] })).host.textContent).not.toContain(" in XSC");
    const form = await shown({ alsoOn: ["GANN", "PUFF"] });
    await type(control(form.host, "1 USD in XSC"), "6.5");
    await type(control(form.host, "1 USD in XSC"), "0");
    expect(form.value().conversions).toEqual({ USD: 6.5 });
  });

  test("no limit is an empty field; what does not fit is told at its field", async () => {
    const form = await shown({ maxQuantity: 5 });
    await type(control(form.host, "Most units per order"), "");
    expect(form.value().maxQuantity).toBeNull();
    await type(control(form.host, "Most positions at once"), "2");
    await type(control(form.host, "Most positions at once"), "2.5");
    await type(control(form.host, "Maintenance, % of margin"), "200");
    await type(control(form.host, "Risk-free rate"), "101");
    expect(form.value()).toMatchObject({ maxPositions: 2, riskFree: 0 });
    // A field that is switched off says nothing.
    expect([...form.host.querySelectorAll("[role=alert]")].map(({ textContent }) => textContent)).toEqual([
      "Write a whole number of 1 or more, or nothing.",
      "Write a number from -100 to 100.",
    ]);
  });
});
