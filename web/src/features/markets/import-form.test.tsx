import type { CsvLayout } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { control, hold, show, type } from "../../testing.tsx";
import { type ImportFacts, ImportForm } from "./import-form.tsx";

const rows = [
  ["Date", "Open", "High", "Low", "Close"],
  ["2025-03-03 07:00", "10", "11", "9", "10.5"],
];
const format: CsvLayout = {
  ...{ delimiter: ",", headerLines: 1, dateFormat: "iso" as const, decimal: "." as const, zone: "UTC", stamp: "open" as const },
  ...{ time: 0, clock: null, zoneColumn: null, open: 1, high: 2, low: 3, close: 4, volume: null },
};
const facts: ImportFacts = {
  ...{ symbol: "DRIFT", timeframe: "5m", currency: "XSC", tickSize: 0.01, pointValue: 1, minQuantity: 1, quantityStep: 1 },
};

describe("how a file is read", () => {
  test("each column shows what it is taken for, and two change places by one choice", async () => {
    const form = await hold<CsvLayout>(format, (value, onFormat) => (
      <ImportForm rows={rows} format={value} facts={facts} onFormat={onFormat} onFacts={() => undefined} />
    ));
    const roles = () => rows[0]!.map((_name, k) => control(form.host, `Column ${k + 1} is`).value);
    expect(roles()).toEqual(["time", "open", "high", "low", "close"]);
    await type(control(form.host, "Column 5 is"), "open");
    expect(roles()).toEqual(["time", "close", "high", "low", "open"]);
    // A price that no other column has can't be taken away.
    await type(control(form.host, "Column 3 is"), "");
    expect(roles()).toEqual(["time", "close", "high", "low", "open"]);
  });

  test("zone, stamp, date format and header are chosen; a header has ten lines at most", async () => {
    const form = await hold<CsvLayout>(format, (value, onFormat) => (
      <ImportForm rows={rows} format={value} facts={facts} onFormat={onFormat} onFacts={() => undefined} />
    ));
    await type(control(form.host, "Zone of the times"), "Atlantic/Faroe");
    await type(control(form.host, "A time marks the bar's"), "close");
    await type(control(form.host, "Date format"), "dmy");
    await type(control(form.host, "Decimal sign"), ",");
    await type(control(form.host, "Header lines"), "4");
    await type(control(form.host, "Header lines"), "40");
    expect(form.host.querySelector("[role=alert]")?.textContent).toBe("Write a whole number from 0 to 10.");
    expect(form.value()).toMatchObject({ zone: "Atlantic/Faroe", stamp: "close", dateFormat: "dmy", decimal: ",", headerLines: 4 });
  });
});

test("the instrument's facts: a number below nothing is kept to itself, a currency is written large", async () => {
  const form = await hold<ImportFacts>(facts, (value, onFacts) => (
    <ImportForm rows={rows} format={format} facts={value} onFormat={() => undefined} onFacts={onFacts} />
  ));
  await type(control(form.host, "Tick size"), "0.25");
  await type(control(form.host, "Tick size"), "-1");
  await type(control(form.host, "Least size"), "0.05");
  await type(control(form.host, "Size step"), "0.01");
  await type(control(form.host, "Currency"), "usd");
  await type(control(form.host, "Bars of"), "1h");
  expect(form.value()).toEqual({
    ...facts,
    ...{ tickSize: 0.25, minQuantity: 0.05, quantityStep: 0.01, currency: "USD", timeframe: "1h" },
  });
});

test("a timeframe that was guessed and is not a common one can be seen", async () => {
  const host = await show(
    <ImportForm rows={rows} format={format} facts={{ ...facts, timeframe: "7m" }} onFormat={() => undefined} onFacts={() => undefined} />,
  );
  expect(control(host, "Bars of").value).toBe("7m");
});
