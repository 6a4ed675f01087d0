import { act } from "react";
import { describe, expect, test } from "vitest";
import { readDate } from "../lib/dates.ts";
import { control, hold, keyOn, press, type } from "../testing.tsx";
import { DateField } from "./date-field.tsx";

test.each([
  ["2025-03-03", "2025-03-03"],
  [" 3 Mar 2025 ", "2025-03-03"],
  ["3 march 2025", "2025-03-03"],
  ["29 Feb 2024", "2024-02-29"],
  ["1 Sept 2025", "2025-09-01"],
  // No day at all, still being typed, or in an order that must be guessed.
  ["29 Feb 2025", null],
  ["2025-02-30", null],
  ["3 Mar 20", null],
  ["2025-03-1", null],
  ["3/4/2025", null],
  ["3.4.2025", null],
  ["2025", null],
  ["", null],
])("%j is the date %s", (text, date) => {
  expect(readDate(text)).toBe(date);
});

const shown = (first: string) =>
  hold<string>(first, (value, onChange) => (
    <DateField aria-label="First day" value={value} min="2024-01-10" max="2024-12-30" onChange={onChange} />
  ));

describe("a date field", () => {
  test("shows its date in words, and takes another when it is whole", async () => {
    const form = await shown("2024-03-01");
    const field = control(form.host, "First day");
    expect(field.value).toBe("1 Mar 2024");
    await type(field, "4 Ma");
    expect(form.value()).toBe("2024-03-01");
    await type(field, "4 May 2024");
    expect(form.value()).toBe("2024-05-04");
    await type(field, "2024-06-07");
    expect(form.value()).toBe("2024-06-07");
  });

  test("says why a date is not taken, and keeps what was written", async () => {
    const form = await shown("2024-03-01");
    const field = control(form.host, "First day");
    const problem = () => form.host.querySelector("[role=alert]")?.textContent ?? "";
    await type(field, "1 Jan 2024");
    expect(problem()).toBe("The first is 10 Jan 2024.");
    await type(field, "31 Dec 2024");
    expect(problem()).toBe("The last is 30 Dec 2024.");
    await type(field, "soon");
    // Not before one has gone on: it may be half a word.
    expect(problem()).toBe("");
    await act(async () => {
      field.focus();
      field.blur();
    });
    expect(problem()).toBe("Write a date as 3 Mar 2025 or 2025-03-03.");
    expect(field.value).toBe("soon");
    expect(field.getAttribute("aria-invalid")).toBe("true");
    expect(form.value()).toBe("2024-03-01");
  });

  test("shows another value that comes from elsewhere, also over what could not be read", async () => {
    const form = await hold<string>("2024-03-01", (value, onChange) => (
      <>
        <DateField aria-label="First day" value={value} onChange={onChange} />
        <button type="button" onClick={() => onChange("2024-09-09")}>
          elsewhere
        </button>
      </>
    ));
    const field = control(form.host, "First day");
    await type(field, "soon");
    expect(field.value).toBe("soon");
    await press(form.host, "elsewhere");
    expect(field.value).toBe("9 Sept 2024");
  });

  test("arrows go by days, pages by months, and not past the bounds", async () => {
    const form = await shown("2024-01-31");
    const field = control(form.host, "First day");
    await keyOn(field, "ArrowUp");
    expect(form.value()).toBe("2024-02-01");
    await keyOn(field, "ArrowDown");
    await keyOn(field, "PageUp");
    expect(form.value()).toBe("2024-02-29");
    await keyOn(field, "PageDown");
    expect(form.value()).toBe("2024-01-29");
    await keyOn(field, "PageDown");
    expect(form.value()).toBe("2024-01-29");
  });
});
