import type { InstrumentList, Market } from "@plan-tester/contract";
import { expect, test, vi } from "vitest";
import { control, press, serving, show, type } from "../../testing.tsx";
import { MarketTools } from "./market-tools.tsx";

const MARKETS = ["KELP", "AUKL", "OLD"].map((symbol) => ({ instrument: { symbol }, isArchived: symbol === "OLD" }) as Market);
const MINE: InstrumentList = { id: "l1", name: "Mine", symbols: ["KELP", "AUKL"] };

const tools = async (ticked: readonly string[], list?: InstrumentList) => {
  const told = { onDone: vi.fn<() => void>(), onShow: vi.fn<(list: InstrumentList | null) => void>() };
  const asked = serving((_what, body) => ({ id: "l2", ...body }));
  const host = await show(<MarketTools markets={MARKETS} lists={[MINE]} {...{ ticked, list }} {...told} />);
  return { host, asked, ...told };
};

const dialog = (): HTMLElement => document.querySelector<HTMLElement>("[role=dialog]")!;

test("what is ticked becomes a list, or is added to the one that has the name", async () => {
  const { host, asked, onShow } = await tools(["AUKL", "OLD"]);
  await press(host, "Keep 2 instruments as a list");
  await type(control(document.body, "Name"), "Shares");
  await press(dialog(), "Keep");
  expect(asked.at(-1)).toMatchObject({ what: "POST /instrument-lists", body: { name: "Shares", symbols: ["AUKL", "OLD"] } });
  expect(onShow).toHaveBeenLastCalledWith(expect.objectContaining({ name: "Shares" }));
  await press(host, "Keep 2 instruments as a list");
  await type(control(document.body, "Name"), "mine");
  await press(dialog(), "Add to Mine");
  expect(asked.at(-1)).toMatchObject({ what: "PUT /instrument-lists/l1", body: { name: "Mine", symbols: ["KELP", "AUKL", "OLD"] } });
});

test("of a list some are taken off; it is renamed and deleted, and its instruments stay", async () => {
  const first = await tools(["AUKL"], MINE);
  await press(first.host, "Remove from this list");
  expect(first.asked.at(-1)).toMatchObject({ what: "PUT /instrument-lists/l1", body: { name: "Mine", symbols: ["KELP"] } });
  const { host, asked, onShow } = await tools([], MINE);
  await press(host, "Rename");
  await type(control(document.body, "Name"), "Ours");
  await press(dialog(), "Rename");
  expect(asked.at(-1)).toMatchObject({ what: "PUT /instrument-lists/l1", body: { name: "Ours", symbols: MINE.symbols } });
  await press(host, "Delete the list");
  expect(asked.at(-1)!.what).toBe("DELETE /instrument-lists/l1");
  expect(onShow).toHaveBeenLastCalledWith(null);
});

test("what is ticked is put out of the way, and what is away is brought back", async () => {
  const { host, asked, onDone } = await tools(["KELP", "AUKL"]);
  await press(host, "Archive");
  expect(asked).toMatchObject([{ what: "PUT /market-shelf", body: { symbols: ["KELP", "AUKL"], isArchived: true } }]);
  expect(onDone).toHaveBeenCalledTimes(1);
  const away = await tools(["OLD"]);
  await press(away.host, "Bring back");
  expect(away.asked.at(-1)).toMatchObject({ what: "PUT /market-shelf", body: { symbols: ["OLD"], isArchived: false } });
});
