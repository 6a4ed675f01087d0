import { type Market, PLAIN_SETTINGS, type RunSettings } from "@plan-tester/contract";
import { describe, expect, test } from "vitest";
import { control, hold, press, show, type } from "../../testing.tsx";
import { SettingsSentence } from "./settings-sentence.tsx";

const SETTINGS: RunSettings = {
  ...PLAIN_SETTINGS,
  symbol: "KELP",
  timeframe: "5m",
  from: "2024-03-01",
  to: "2025-02-28",
  alsoOn: ["AUKL"],
};
const market = (symbol: string, timeframe: string, firstDate: string, lastDate: string): Market =>
  ({
    instrument: {
      symbol,
      name: `${symbol} itself`,
      currency: "XSC",
      class: "share",
      costs: {},
      calendar: { zone: "UTC", isAssumed: true },
    },
    timeframe,
    firstDate,
    lastDate,
  }) as unknown as Market;
const MARKETS = [
  market("KELP", "1m", "2023-03-01", "2026-02-27"),
  market("AUKL", "1m", "2023-03-01", "2026-02-27"),
  market("WHLK", "1h", "2019-01-02", "2021-12-30"),
];

const sentence = (first: Partial<RunSettings> = {}) =>
  hold<RunSettings>({ ...SETTINGS, ...first }, (value, onChange) => (
    <SettingsSentence settings={value} markets={MARKETS} onChange={onChange} />
  ));
const words = (host: HTMLElement): string => host.textContent!.replace(/\s+/g, " ");
/** Opens the control behind a word, and presses something in it. */
const choose = async (host: HTMLElement, word: string, what: string): Promise<void> => {
  const trigger = [...host.querySelectorAll("button")].find((button) => button.getAttribute("aria-label")?.startsWith(`${word}:`))!;
  await press(host, trigger.getAttribute("aria-label")!);
  await press(document.querySelector<HTMLElement>(`[aria-label="${word}s"]`)!, what);
};

describe("the sentence of a run's settings", () => {
  test("says all of it, and is plain text where nothing can be changed", async () => {
    const { host } = await sentence();
    expect(words(host)).toMatch(/^On KELP with AUKL in 5 min bars from 1 Mar 2024 to 28 Feb 2025, with 100,000 crowns/);
    const read = await show(<SettingsSentence settings={SETTINGS} markets={MARKETS} readOnly onChange={() => undefined} />);
    expect(read.querySelectorAll("button")).toHaveLength(0);
    expect(words(read)).toContain("On KELP with AUKL in 5 min bars");
  });

  test("another instrument brings a period in which it has bars, a timeframe that it has, and is no further instrument any more", async () => {
    const { host, value } = await sentence();
    await choose(host, "Instrument", "WHLK");
    expect(value()).toMatchObject({ symbol: "WHLK", timeframe: "1h", from: "2020-12-30", to: "2021-12-30", alsoOn: ["AUKL"] });
    await choose(host, "Instrument", "AUKL");
    expect(value()).toMatchObject({ symbol: "AUKL", timeframe: "1h", alsoOn: [] });
  });

  test("a timeframe that the bars can't give is not offered", async () => {
    const { host } = await sentence({ symbol: "WHLK", timeframe: "1h", alsoOn: [] });
    await press(host, "Timeframe: 1 h");
    const offered = [...document.querySelectorAll("[aria-label=Timeframes] button")].map(({ textContent }) => textContent);
    expect(offered).toContain("1 h");
    expect(offered).not.toContain("15 min");
  });

  // One sheet a sentence: where focus goes when one closes is the browser's to say, and may close the next.
  test("a period that moves with the data is chosen in words", async () => {
    const { host, value } = await sentence();
    await press(host, "Period: from");
    await press(document.body, "of the year to date");
    expect(value().period).toBe("year to date");
    expect(words(host)).toContain("bars of the year to date, 1 Mar 2024 to");
  });

  test("so many weeks, months or years are counted back from the end of the data", async () => {
    const { host, value } = await sentence({ period: "year to date" });
    await press(host, "Period: of the year to date,");
    await type(control(document.body, "How many"), "6");
    expect(value().period).toBe("last 6 months");
    await type(control(document.body, "Weeks, months or years"), "weeks");
    expect(value().period).toBe("last 6 weeks");
    expect(words(host)).toContain("bars of the last 6 weeks, 1 Mar 2024");
  });

  test.each([
    ["last 6 weeks", null],
    // Up to the end of the data there is a first day to choose.
    ["to the end", "to the end"],
  ])("a first day of one's own makes of %j the period %j", async (period, left) => {
    const { host, value } = await sentence({ period });
    await press(host, "First day: 1 Mar 2024");
    await type(control(document.body, "First session"), "4 Mar 2024");
    expect(value()).toMatchObject({ from: "2024-03-04", period: left });
  });

  test("days are inside the history, and cash is above nothing", async () => {
    const { host, value } = await sentence();
    await press(host, "Last day: 28 Feb 2025");
    await type(control(document.body, "Last session"), "1 Mar 2026");
    expect(document.querySelector("[role=alert]")?.textContent).toBe("The last is 27 Feb 2026.");
    await type(control(document.body, "Last session"), "3 Feb 2026");
    expect(value().to).toBe("2026-02-03");
    await press(host, "Starting cash: 100,000");
    await type(control(document.body, "Starting cash, XSC"), "0");
    expect(value().cash).toBe(100_000);
    await type(control(document.body, "Starting cash, XSC"), "25000");
    expect(words(host)).toContain("with 25,000 crowns");
  });
});
