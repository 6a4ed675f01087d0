/** What becomes of reports on a line with faults. */
import { expect, test } from "vitest";
import type { VenueMessage } from "./protocol.ts";
import { type LineFaults, type Said, WordFaults } from "./word-faults.ts";

const NONE: LineFaults = { loseReports: 0, repeatReports: 0, swapReports: 0, delayMs: 0, skewSeconds: 0 };
const report = (number: number, ...clients: number[]): Said => ({ clients, message: { type: "report", number } as VenueMessage });
const price: Said = { clients: null, message: { type: "price" } as VenueMessage };

const rows: [string, Partial<LineFaults>, readonly Said[], readonly string[]][] = [
  ["without faults", {}, [report(1, 7), price, report(2, 7)], ["1 to 7", "price", "2 to 7"]],
  ["the next is lost", { loseReports: 1 }, [report(1, 7), price, report(2, 7)], ["price", "2 to 7"]],
  [
    "the next two come twice",
    { repeatReports: 2 },
    [1, 2, 3].map((one) => report(one, 7)),
    ["1 to 7", "1 to 7", "2 to 7", "2 to 7", "3 to 7"],
  ],
  // A report is for those who follow its account, whoever the one after it is for.
  [
    "the next comes behind the one after it",
    { swapReports: 1 },
    [report(1, 7), price, report(2, 8), report(3, 7)],
    ["price", "2 to 8", "1 to 7", "3 to 7"],
  ],
];

for (const [what, faults, given, expected] of rows)
  test(what, () => {
    const words = new WordFaults();
    words.counts.left = { ...NONE, ...faults };
    const told = given
      .flatMap((said) => words.through(said))
      .map(({ clients, message }) => (message.type === "report" ? `${message.number} to ${clients!.join(", ")}` : message.type));
    expect(told).toEqual(expected);
    expect(words.counts.left).toEqual(NONE);
  });

test("a clock that is wrong stands in every word that has a time of saying, and in no other", () => {
  const words = new WordFaults();
  words.counts.left = { ...NONE, skewSeconds: -90 };
  const said = (message: object): object => words.through({ clients: null, message: message as VenueMessage })[0]!.message;
  expect(said({ type: "closing", saidMs: 1_000_000, timeMs: 5 })).toEqual({ type: "closing", saidMs: 910_000, timeMs: 5 });
  expect(said({ type: "status", nowMs: 5 })).toEqual({ type: "status", nowMs: 5 });
});
