import type { PlanSummary, RunSummary } from "@plan-tester/contract";
import { act } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, expect, test, vi } from "vitest";
import { control, keyOn, press, show, type } from "../../testing.tsx";
import { PlanMarket, PlanTable } from "./plan-table.tsx";

const plan = (run: { symbol: string; timeframe: string; alsoOn: string[] } | null) => ({
  ...{ symbol: "ORM", timeframe: "1h" },
  lastRun: run && ({ settings: run } as unknown as RunSummary),
});
const textOf = async (summary: Pick<PlanSummary, "symbol" | "timeframe" | "lastRun">): Promise<string> =>
  (await show(<PlanMarket plan={summary} />)).textContent ?? "";

test("the market is that of the figures beside it; the draft's is said where it is another", async () => {
  expect(await textOf(plan(null))).toBe("ORM 1 h");
  expect(await textOf(plan({ symbol: "ORM", timeframe: "1h", alsoOn: [] }))).toBe("ORM 1 h");
  expect(await textOf(plan({ symbol: "KELP", timeframe: "15m", alsoOn: ["BRIN", "TIDE"] }))).toBe("KELP 15 min and 2 othersdraft: ORM 1 h");
});

const PLAN = { id: "tide", title: "Tide", symbol: "KELP", timeframe: "15m", updatedMs: 0, note: "", lastRun: null };
const nothing = (): void => undefined;

function answers(answer: (body: unknown) => Response): unknown[] {
  const sent: unknown[] = [];
  vi.stubGlobal("fetch", async (_url: string, { body }: RequestInit) => {
    sent.push(JSON.parse(String(body)));
    return answer(sent.at(-1));
  });
  return sent;
}
afterEach(() => vi.unstubAllGlobals());

const table = () =>
  show(
    <MemoryRouter>
      <PlanTable plans={[PLAN]} onCopy={nothing} onDelete={nothing} />
    </MemoryRouter>,
  );

test("a plan is renamed in place: Enter takes the name", async () => {
  const sent = answers(() => Response.json({}));
  const host = await table();
  await press(host, "Rename Tide");
  const field = control(host, "New name of Tide") as HTMLInputElement;
  await type(field, "Neap tide");
  await act(async () => field.form!.requestSubmit());
  expect(sent).toEqual([{ title: "Neap tide" }]);
  expect(host.querySelector("form")).toBeNull();
});

test("Escape leaves the name, and so does the same name again", async () => {
  const sent = answers(() => Response.json({}));
  const host = await table();
  await press(host, "Rename Tide");
  await type(control(host, "New name of Tide"), "Other");
  await keyOn(control(host, "New name of Tide"), "Escape");
  expect(host.querySelector("form")).toBeNull();
  await press(host, "Rename Tide");
  await act(async () => (control(host, "New name of Tide") as HTMLInputElement).form!.requestSubmit());
  expect(sent).toEqual([]);
});

test("a refused name stays to be changed", async () => {
  answers(() => Response.json({ error: { code: "bad-input", message: "No.", details: {} } }, { status: 400 }));
  const host = await table();
  await press(host, "Rename Tide");
  const field = control(host, "New name of Tide") as HTMLInputElement;
  await type(field, "Neap");
  await act(async () => field.form!.requestSubmit());
  expect((control(host, "New name of Tide") as HTMLInputElement).value).toBe("Neap");
});
