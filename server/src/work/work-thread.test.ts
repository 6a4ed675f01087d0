import { makeSeries } from "@plan-tester/core";
import { generateHistory, HISTORY_FROM, instrumentNamed } from "@plan-tester/demo";
import { afterAll, expect, test } from "vitest";
import { WorkThread } from "./work-thread.ts";

const thread = new WorkThread(1500);
afterAll(() => thread.close());

test("a study that takes too long is ended with its thread, in words, and the next is computed", async () => {
  const calendar = instrumentNamed("KELP")!.calendar;
  const { columns } = generateHistory("KELP", HISTORY_FROM + 200 * 86_400_000);
  const series = makeSeries(columns, "1m", calendar);
  expect(series.length).toBeGreaterThan(80_000);
  const task = { series, source: series };
  await expect(thread.study({ ...task, study: "skewness(close, 50000)" })).rejects.toMatchObject({
    code: "limit",
    message: expect.stringMatching(/^It took longer than 1\.5 s\. Take a shorter span/),
  });
  const { values } = await thread.study({ ...task, study: "close" });
  expect(values.length).toBe(series.length);
  await expect(thread.study({ ...task, study: "nothing(" })).rejects.toMatchObject({ code: "bad-study" });
});
