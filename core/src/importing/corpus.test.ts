/** A corpus of small files: what each is, and what must come of it. Every report of a file that was read wrong adds one. */
import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import { outcomeOf } from "./corpus-outcome.ts";

const FOLDER = new URL("./corpus/", import.meta.url);
const QUARTERS = "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 988";

/** Times are read in UTC where they name no zone. The outcome begins with what is written here. */
const CASES: readonly (readonly [file: string, what: string, outcome: string])[] = [
  [
    "adjusted-close",
    "a price adjusted for something, beside the close",
    "8 of 1d, 2025-03-31 00:00Z to 2025-04-07 00:00Z, last 411.5, volume 988",
  ],
  [
    "am-pm-clock-column",
    "AM and PM in a column of their own",
    "12 of 1h, 2025-03-31 07:00Z to 2025-03-31 18:00Z, last 412.25, volume 1506",
  ],
  ["am-pm-dots", "a.m. and p.m.", "12 of 1h, 2025-03-31 07:00Z to 2025-03-31 18:00Z, last 412.25, volume 1506"],
  [
    "am-pm-impossible",
    "13:00 PM, which is no time",
    'refused, no bar; line 2: "2025-03-31 13:00 PM" has AM or PM behind an hour that is not 1 to 12',
  ],
  ["am-pm-midnight", "12:00 AM is midnight", "8 of 1h, 2025-03-31 20:00Z to 2025-04-01 03:00Z, last 411.5, volume 988"],
  ["am-pm-tight", "am right behind the minutes", "12 of 1h, 2025-03-31 07:00Z to 2025-03-31 18:00Z, last 412.25, volume 1506"],
  ["am-pm", "month first, twelve hours with AM and PM", "12 of 1h, 2025-03-31 07:00Z to 2025-03-31 18:00Z, last 412.25, volume 1506"],
  ["backwards", "the last bar first", QUARTERS],
  ["blank-lines", "every second line is blank", QUARTERS],
  ["byte-order-mark", "a mark of UTF-8 ahead of the header", QUARTERS],
  ["carriage-returns", "lines that end in CR alone", QUARTERS],
  ["clock-column-and-midnight", "dates with 00:00:00, and the time of day apart", QUARTERS],
  ["clock-column-before-date", "the time of day ahead of the date", QUARTERS],
  [
    "clock-column-fractions",
    "fractions of a second in the time of day",
    "8 of 15m, 2025-03-31 07:00:00.250Z to 2025-03-31 08:45:00.250Z, last 411.5, volume 988",
  ],
  [
    "clock-column-hhmm",
    "0, 100, 200: hours and minutes without a colon",
    "8 of 1h, 2025-03-31 00:00Z to 2025-03-31 07:00Z, last 411.5, volume 988",
  ],
  ["clock-column-hhmmss", "070000 in a column of its own", QUARTERS],
  [
    "clock-column-offset",
    "an offset in the column of the time of day",
    "8 of 15m, 2025-03-31 05:00Z to 2025-03-31 06:45Z, last 411.5, volume 988",
  ],
  ["clock-column", "date and time of day apart", QUARTERS],
  ["clock-with-points", "07.15 for a quarter past seven", QUARTERS],
  ["close-first", "columns in another order", QUARTERS],
  ["close-time", "a head that says the times are closes", "8 of 15m, 2025-03-31 06:45Z to 2025-03-31 08:30Z, last 411.5, volume 988"],
  ["compact-12", "202503310715", QUARTERS],
  ["compact-14", "20250331071500", QUARTERS],
  ["compact-space", "20250331 071500", QUARTERS],
  [
    "currency-sign",
    "a currency sign ahead of a price",
    '7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 866; line 4: its high "$412.50" is not a number with a decimal point',
  ],
  ["daily", "working days", "10 of 1d, 2025-03-31 00:00Z to 2025-04-11 00:00Z, last 412.25, volume 1255"],
  [
    "day-first-by-order",
    "no day over twelve, but only one order goes forward in time",
    "12 of 1d, 2025-04-01 00:00Z to 2025-05-06 00:00Z, last 411.5, volume 1650",
  ],
  [
    "day-first-late",
    "a day over twelve comes late in the file",
    "20 of 1d, 2025-04-01 00:00Z to 2025-04-20 00:00Z, last 411.75, volume 2590",
  ],
  ["day-first", "days over twelve", QUARTERS],
  [
    "day-or-month-one-date",
    "eight dates, each of which can be read in two orders",
    'asks date-order: "01.04.2025" and every other date of the file can be read in more than one order. With the day first the dates follow one another closely; otherwise they lie weeks apart. day, month, year | month, day, year',
  ],
  [
    "day-or-month",
    "one date that can be 4 March or 3 April",
    'asks date-order: "04/03/2025 07:00" and every other date of the file can be read in more than one order. day, month, year | month, day, year',
  ],
  [
    "decimal-comma-in-commas",
    "decimal commas in a file of commas, which can't be told apart",
    "asks columns: The lines have 10 fields and the header has 6. If numbers have a decimal comma and fields have commas between them, save the file with semicolons; else say what each column is.",
  ],
  ["decimal-comma-no-header", "decimal commas without a header", QUARTERS],
  ["decimal-comma-quoted", "decimal commas in quotes", QUARTERS],
  ["decimal-comma-tabs", "decimal commas between tabs", QUARTERS],
  ["decimal-comma", "decimal commas, semicolons and German heads", QUARTERS],
  [
    "empty-price",
    "a close that is missing",
    "7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 864; line 6: its close is empty",
  ],
  [
    "empty",
    "nothing",
    "refused: No line holds a time and four prices with a comma, semicolon, tab or bar between them. The file is empty.",
  ],
  ["exponents", "4.112500e+02", QUARTERS],
  [
    "february-30",
    "a day that no year has",
    '7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 866; line 4: "2025-02-30 07:30" is not a date of the form year-month-day',
  ],
  [
    "header-only",
    "a header and no bar",
    'refused: No line holds a time and four prices with a comma, semicolon, tab or bar between them. The file begins with "time,open,high,low,close,volume".',
  ],
  ["heads-camel", "openPrice, tradedVolume", QUARTERS],
  ["heads-short", "t, o, h, l, c, v", QUARTERS],
  [
    "heads-unknown",
    "words that the app doesn't know",
    "asks columns: The header names no open, high, low, close. By their numbers the columns after the time are open, high, low and close. Open, high, low, close in this order",
  ],
  ["heads-with-units", "units in brackets", QUARTERS],
  [
    "hexadecimal",
    "0x19B",
    '7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 865; line 5: its open "0x19B" is not a number with a decimal point',
  ],
  [
    "high-below-low",
    "a bar that can't be",
    "7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 865; line 5: the low 412 is above the open 411",
  ],
  ["hour-24-00", "24:00 is the next midnight", "8 of 30m, 2025-03-30 22:00Z to 2025-03-31 01:30Z, last 411.5, volume 988"],
  [
    "hour-24-30",
    "24:30 is no time",
    '7 of 30m, 2025-03-30 22:00Z to 2025-03-31 01:30Z, last 411.5, volume 863; line 7: "2025-03-30 24:30" is past the end of the day',
  ],
  ["hour-only", "an hour without minutes", "8 of 1h, 2025-03-31 07:00Z to 2025-03-31 14:00Z, last 411.5, volume 988"],
  [
    "hourly-with-lunch",
    "hours from half past nine, with a short bar ahead of the break",
    "7 of 1h, 2025-03-31 09:30Z to 2025-03-31 15:00Z, last 412.25, volume 875",
  ],
  ["iso-fractions", "microseconds behind the seconds", QUARTERS],
  [
    "iso-offset-compact",
    "an offset without one, half an hour off",
    "8 of 15m, 2025-03-31 10:30Z to 2025-03-31 12:15Z, last 411.5, volume 988",
  ],
  ["iso-offset", "an offset with a colon", "8 of 15m, 2025-03-31 05:00Z to 2025-03-31 06:45Z, last 411.5, volume 988"],
  ["iso-z", "Z for UTC", QUARTERS],
  ["iso", "the plainest file", QUARTERS],
  ["many-digits", "sixty decimals", QUARTERS],
  [
    "minute-75",
    "75 minutes past seven",
    '7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 866; line 4: "2025-03-31 07:75" is past the end of the day',
  ],
  [
    "minutes-with-gaps",
    "minutes in which nothing was traded have no bar",
    "34 of 1m, 2025-03-31 07:00Z to 2025-03-31 07:57Z, last 411.25, volume 5065",
  ],
  [
    "mixed-days-then-minutes",
    "days, then minutes",
    "refused, line 12: from here bars lie 1 minute apart and not 1 day; import bars of one timeframe at a time",
  ],
  [
    "mixed-minutes-then-quarters",
    "minutes, then quarters of an hour",
    "refused, line 13: from here bars lie 15 minutes apart and not 1 minute; import bars of one timeframe at a time",
  ],
  ["month-first", "months ahead of days over twelve", QUARTERS],
  ["monthly", "first days of months", "14 of 1mo, 2024-01-01 00:00Z to 2025-02-01 00:00Z, last 412.25, volume 1771"],
  ["named-month-dashes", "31-Mar-25", "8 of 1d, 2025-03-31 00:00Z to 2025-04-07 00:00Z, last 411.5, volume 988"],
  ["named-month-first", "Mar 31, 2025 in quotes", "8 of 1d, 2025-03-31 00:00Z to 2025-04-07 00:00Z, last 411.5, volume 988"],
  ["named-month", "31 Mar 2025", QUARTERS],
  ["named-weekday", "a weekday ahead of the date and GMT behind it", QUARTERS],
  [
    "negative-volume",
    "a volume below nothing",
    "7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 865; line 5: the volume -1 is negative",
  ],
  ["no-header-adjusted-close", "a sixth column that is a price", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 0"],
  ["no-header-no-volume", "a time and four prices", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 0"],
  [
    "no-header-three-extras",
    "three numbers behind the prices, any of which can be the volume",
    "asks volume: No header says which of the columns 6, 7, 8 is the volume; spread and open interest look like it. Column 6 is the volume | Column 7 is the volume | Column 8 is the volume | There is no volume",
  ],
  ["no-header", "a time, four prices and a volume without heads", QUARTERS],
  ["no-last-newline", "the last line has no end", QUARTERS],
  ["numbered-heads", "1. open, 2. high", QUARTERS],
  ["offset-single-digit", "+5:30 behind the time", "8 of 15m, 2025-03-31 01:30Z to 2025-03-31 03:15Z, last 411.5, volume 988"],
  ["open-and-close-time", "both times of a bar", QUARTERS],
  ["open-interest", "open interest, which is no volume", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 0"],
  [
    "out-of-order",
    "two lines in the wrong order",
    "6 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 741; line 6: its time is earlier than the previous bar's",
  ],
  ["packed", "gzip", "refused: The file is packed with gzip, not text. Unpack it and import that."],
  ["padded", "spaces around commas", QUARTERS],
  ["pipes", "bars between the fields", QUARTERS],
  ["plus-signs", "a plus ahead of each price", QUARTERS],
  ["preamble", "a title, a blank line and a date of export ahead of the header", QUARTERS],
  [
    "prose",
    "a letter",
    'refused: No line holds a time and four prices with a comma, semicolon, tab or bar between them. The file begins with "This is a letter, not a list,".',
  ],
  [
    "quarter-hours",
    "quarters of an hour, all of which lie 15 minutes apart",
    "24 of 15m, 2025-03-31 07:00Z to 2025-03-31 12:45Z, last 412.5, volume 3156",
  ],
  ["quoted", "every field in quotes", QUARTERS],
  [
    "quotes-with-sizes",
    "the same with sizes, as many numbers as a bar has",
    "8 of 1m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 40",
  ],
  ["quotes", "bid, ask and last of trades", "8 of 1m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 8"],
  ["separator-line", "a line that names the separator", QUARTERS],
  [
    "short-year-unclear",
    "three numbers, any of which can be the year",
    'asks date-order: "03/04/05" and every other date of the file can be read in more than one order. With the day first the dates follow one another closely; otherwise they lie weeks apart. day, month, year | month, day, year | year, month, day',
  ],
  [
    "short-year",
    "two digits of a year, which could be the day as well",
    'asks date-order: "31.03.25 07:00" and every other date of the file can be read in more than one order. day, month, year | year, month, day',
  ],
  ["spread-before-volume", "a spread between close and volume", QUARTERS],
  ["spread-first", "a spread, which is no volume", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 0"],
  ["spreadsheet-days", "days since 1899-12-30", QUARTERS],
  ["symbol-first", "a symbol ahead of the date", QUARTERS],
  [
    "ten-seconds",
    "bars of ten seconds",
    "refused, line 4: its bar opens 10 seconds after the one before, so these are not bars of 1 min; the finest bars are those of a minute",
  ],
  [
    "thousands-across-1000",
    "points that can only part thousands: 998, 999, 1.000",
    "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 1008, volume 988",
  ],
  ["thousands-apostrophe", "16'411.25", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 16411.5, volume 988"],
  [
    "thousands-comma",
    '"16,411.25" and a volume of "120,000"',
    "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 16411.5, volume 988000",
  ],
  [
    "thousands-narrow-space",
    "a narrow space that doesn't break",
    "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 16411.5, volume 988",
  ],
  ["thousands-or-decimals", "2.000 throughout", 'asks decimal: "2.000" can be 2 and 000 thousandths or 2000 whole. 2.000 | 2000'],
  ["thousands-point", "16.411,25 and a volume of 120.000", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 16411.5, volume 988000"],
  ["thousands-space", "16 411,25", "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 16411.5, volume 988"],
  [
    "thousands-wrong-groups",
    '"41,1.25"',
    '7 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 411.5, volume 863; line 7: its low "41,1.25" is not a number with a decimal point',
  ],
  [
    "three-decimals-below-one",
    "0.998 beside 1.003 shows that points part decimals",
    "8 of 15m, 2025-03-31 07:00Z to 2025-03-31 08:45Z, last 1.008, volume 988",
  ],
  ["total-line", "a sum in the last line", `${QUARTERS}; line 10: "Total" is not a date of the form year-month-day`],
  ["twice-the-same", "a bar that comes twice", `${QUARTERS}; line 6: its time is the same as the previous bar's`],
  [
    "two-clocks",
    "two times of day in a line",
    'refused, no bar; line 2: "2025-03-31 09:30" has a time of day, and another column has one too',
  ],
  ["unix-microseconds", "sixteen digits", QUARTERS],
  ["unix-milliseconds", "thirteen digits", QUARTERS],
  ["unix-nanoseconds", "nineteen digits", QUARTERS],
  ["unix-seconds-fraction", "seconds with a decimal", QUARTERS],
  ["unix-seconds", "ten digits", QUARTERS],
  ["utf-16", "two bytes a letter", "refused: The file is UTF-16, not text. Save it as UTF-8 and import it again."],
  ["volume-in-thousands", "1.20K", `${QUARTERS}0`],
  ["week-dates-weekly", "2025-W14, the week's Monday", "8 of 1w, 2025-03-31 00:00Z to 2025-05-19 00:00Z, last 411.5, volume 988"],
  ["week-dates", "2025-W14-1", "8 of 1d, 2025-03-31 00:00Z to 2025-04-07 00:00Z, last 411.5, volume 988"],
  ["weekly", "Mondays", "8 of 1w, 2025-03-31 00:00Z to 2025-05-19 00:00Z, last 411.5, volume 988"],
  ["windows-lines", "lines that end in CR and LF", QUARTERS],
  [
    "workbook",
    "a workbook or a zip archive",
    "refused: The file is a zip archive or a workbook, not text. Unpack it, or save the sheet as CSV, and import that.",
  ],
  ["year-slashes", "2025/03/31", QUARTERS],
  [
    "zone-abbreviation-unclear",
    "IST, which is used for three zones",
    'refused, no bar; line 2: "2025-03-31 07:00 IST" ends in "IST", which names no time zone that is clear',
  ],
  ["zone-abbreviation", "CEST behind the time", "8 of 15m, 2025-03-31 05:00Z to 2025-03-31 06:45Z, last 411.5, volume 988"],
  ["zone-column-behind", "the offset in the last column", "8 of 15m, 2025-03-31 11:00Z to 2025-03-31 12:45Z, last 411.5, volume 988"],
  [
    "zone-column-name",
    "the zone's name in a column of its own",
    "8 of 15m, 2025-03-31 06:00Z to 2025-03-31 07:45Z, last 411.5, volume 988",
  ],
  [
    "zone-column-no-header",
    "an offset behind the time, without heads",
    "8 of 15m, 2025-03-31 01:30Z to 2025-03-31 03:15Z, last 411.5, volume 988",
  ],
  ["zone-column-offset", "+5:30 in a column of its own", "8 of 15m, 2025-03-31 01:30Z to 2025-03-31 03:15Z, last 411.5, volume 988"],
  ["zone-gmt-plus", "GMT+2 is two hours ahead", "8 of 15m, 2025-03-31 05:00Z to 2025-03-31 06:45Z, last 411.5, volume 988"],
  [
    "zone-name-in-brackets",
    "an offset and the name of its zone",
    "8 of 15m, 2025-03-31 06:00Z to 2025-03-31 07:45Z, last 411.5, volume 988",
  ],
  ["zone-name", "the zone's name behind the time, in summer", "8 of 15m, 2025-03-31 06:00Z to 2025-03-31 07:45Z, last 411.5, volume 988"],
  [
    "zone-nonsense",
    "a zone that there is not",
    'refused, no bar; line 2: "2025-03-31 07:00 Nowhere/Never" ends in "Nowhere/Never", which names no time zone that is clear',
  ],
  ["zone-utc-word", "UTC behind the time", QUARTERS],
];

describe("a corpus of files", () => {
  test("is as large as it was, and every file of it is in the table", () => {
    expect(CASES.length).toBeGreaterThan(120);
    expect(readdirSync(FOLDER).sort()).toEqual(CASES.map(([file]) => `${file}.csv`).sort());
  });

  test.each(CASES)("%s: %s", (file, _what, expected) => {
    const outcome = outcomeOf(readFileSync(new URL(`${file}.csv`, FOLDER)));
    // A line that is given whole must be all there is.
    expect(expected.includes("; line") ? outcome.slice(0, expected.length) : outcome.trimEnd()).toBe(expected);
  });
});
