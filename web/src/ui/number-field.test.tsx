import { act } from "react";
import { describe, expect, test } from "vitest";
import { boundsOf, type NumberBounds, numberProblem, readNumber } from "../lib/read-number.ts";
import { control, hold, keyOn, press, type } from "../testing.tsx";
import { NumberField, type NumberFieldProps } from "./number-field.tsx";

test.each([
  ["12", 12],
  [" -0.5 ", -0.5],
  ["−3", -3],
  [".5", 0.5],
  ["1e3", 1000],
  ["", null],
  ["1,5", Number.NaN],
  ["1 000", Number.NaN],
  ["0x10", Number.NaN],
  ["Infinity", Number.NaN],
  ["soon", Number.NaN],
])("%j is read as %d", (text, number) => {
  expect(readNumber(text)).toBe(number);
});

test.each<[string, NumberBounds, string]>([
  ["0", { min: 0 }, ""],
  ["-1", { min: 0 }, "Write a number of 0 or more."],
  ["0", { above: 0 }, "Write a number above 0."],
  ["101", { above: 0, max: 100 }, "Write a number above 0 and up to 100."],
  ["2.5", { min: 1, max: 10, whole: true }, "Write a whole number from 1 to 10."],
  ["1,5", {}, "Write a number, with a point for decimals and no commas."],
  ["1e300", {}, "Write a number."],
  ["", {}, "Write a number."],
  ["", { canBeEmpty: true }, ""],
  ["x", { whole: true, canBeEmpty: true }, "Write a whole number, or nothing."],
])("of %j within %j is said: %s", (text, bounds, words) => {
  expect(numberProblem(text, bounds)).toBe(words);
});

test.each([
  [
    { type: "integer", minimum: 1, maximum: 9 },
    { min: 1, max: 9, whole: true },
  ],
  [
    { type: "number", minimum: 1e-9, maximum: 1e12 },
    { above: 0, whole: false },
  ],
  [{ anyOf: [{ type: "null" }, { type: "integer", minimum: 0 }] }, { min: 0, whole: true }],
])("a schema %j gives bounds %j", (schema, bounds) => {
  expect(boundsOf(schema)).toEqual(bounds);
});

describe("a number field", () => {
  const shown = (first: number | null, more: Partial<NumberFieldProps> = {}) =>
    hold<number | null>(first, (value, onChange) => (
      <>
        <NumberField label="Entries" value={value} {...more} onChange={onChange} />
        <button type="button" onClick={() => onChange(7)}>
          seven
        </button>
      </>
    ));
  const problem = (host: HTMLElement) => host.querySelector("[role=alert]")?.textContent ?? "";

  test("takes what fits at once; what does not stays written, with a word on it, and changes nothing", async () => {
    const { host, value } = await shown(3, { min: 1, whole: true });
    const field = control(host, "Entries");
    await type(field, "5");
    expect(value()).toBe(5);
    await type(field, "2.5");
    expect([value(), field.value, problem(host)]).toEqual([5, "2.5", "Write a whole number of 1 or more."]);
    expect(field.getAttribute("aria-invalid")).toBe("true");
    await type(field, "6");
    expect([value(), problem(host)]).toEqual([6, ""]);
  });

  test("keeps what is still being written: a point, a zero behind it", async () => {
    const { host, value } = await shown(1);
    const field = control(host, "Entries");
    for (const text of ["1.", "1.0", "1.05"]) {
      await type(field, text);
      expect(field.value).toBe(text);
    }
    expect(value()).toBe(1.05);
  });

  test("shows another value that comes from elsewhere, also over what did not fit", async () => {
    const { host } = await shown(3, { min: 1 });
    const field = control(host, "Entries");
    await type(field, "-2");
    await press(host, "seven");
    expect([field.value, problem(host)]).toEqual(["7", ""]);
  });

  test("may be emptied where that means something, and otherwise asks for a number once one has gone on", async () => {
    const other = await shown(3);
    const field = control(other.host, "Entries");
    await act(async () => field.focus());
    await type(field, "");
    expect([other.value(), problem(other.host), field.getAttribute("aria-invalid")]).toEqual([3, "", "true"]);
    await act(async () => field.blur());
    expect(problem(other.host)).toBe("Write a number.");
  });

  test("arrow keys step by its last digit, inside the bounds", async () => {
    const { host, value } = await shown(0.25, { min: 0, max: 0.27 });
    const field = control(host, "Entries");
    for (const [key, expected] of [
      ["ArrowUp", 0.26],
      ["ArrowUp", 0.27],
      ["ArrowUp", 0.27],
      ["ArrowDown", 0.26],
    ] as const) {
      await keyOn(field, key);
      expect(value()).toBe(expected);
    }
  });
});
