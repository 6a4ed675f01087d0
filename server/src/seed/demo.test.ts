/** The demo world is made once, goes on where it was cut, stays away when it is not wanted, and can be removed. */
import { INSTRUMENTS } from "@plan-tester/demo";
import { afterAll, beforeAll, expect, test } from "vitest";
import { BarSetEntity } from "../db/entities.ts";
import { TestServer } from "../testing.ts";

const server = new TestServer();
beforeAll(() => server.start());
afterAll(() => server.end());

const sets = async () => (await server.application.database.read.find(BarSetEntity)).map(({ id, symbol }) => `${id} ${symbol}`);
const stateOf = async () => (await server.ask("getDemo")).body.state;

/** Ends the making of the demo as the end of the server would: in the middle. */
async function cutAfter(text: string): Promise<void> {
  const cut = application().make((said) => {
    if (said.startsWith(text)) throw new Error("cut off");
  });
  await expect(cut).rejects.toThrow("cut off");
}
const application = () => server.application.demo;

test("a start that was cut off goes on where it was; what is removed stays away", { timeout: 120_000 }, async () => {
  await cutAfter("BRIN");
  const first = await sets();
  expect(first.length).toBe(2);
  await server.stop();
  await server.start();
  expect(await stateOf()).toBe("making");

  // The next start makes the rest, whether or not a new workspace would get the demo.
  await expect(
    application().atStart(false, (said) => {
      if (/one run/.test(said)) throw new Error("cut off");
    }),
  ).rejects.toThrow("cut off");
  const second = await sets();
  expect(second.slice(0, 2)).toEqual(first);
  expect(second.length).toBe(INSTRUMENTS.length);
  const plans = async () => (await server.ask("listPlans")).body.map(({ id }) => id);
  expect((await plans()).length).toBeGreaterThan(1);

  const kits = async () => (await server.ask("listKits")).body;
  const [ownKit, ...rest] = await kits();
  expect(rest).toHaveLength(4);
  await server.ask("replaceKit", { id: ownKit!.id }, { name: ownKit!.name, description: "my own words", kit: ownKit!.kit });

  const changed = (await plans())[0]!;
  const { source } = (await server.ask("getPlan", { id: changed })).body;
  await server.ask("updatePlan", { id: changed }, { source: `${source}// mine\n` });
  // The cut came ahead of the blend and the source, which are the last that are made.
  await application().make(() => undefined);
  const sources = async () => (await server.ask("listSources")).body;
  expect(await sources()).toMatchObject([{ symbol: "GANN", kind: "web", isOn: false, last: null }]);
  await application().make(() => undefined);
  expect(await sources()).toHaveLength(1);

  // One alone is deleted: it stays away, and comes back from the bin.
  const symbols = async () => (await server.ask("listMarkets")).body.map(({ instrument }) => instrument.symbol);
  expect((await server.ask("deleteMarket", { symbol: "TIDE" })).status).toBe(204);
  expect(await application().atStart(true, () => undefined)).toBe(false);
  expect([await stateOf(), (await symbols()).includes("TIDE")]).toEqual(["there", false]);
  expect((await server.ask("restoreDeleted", {}, { kind: "market", id: "TIDE" })).status).toBe(204);
  expect((await symbols()).length).toBe(INSTRUMENTS.length);

  expect((await server.ask("removeDemo")).status).toBe(204);
  expect(await sources()).toEqual([]);
  expect(await plans()).toEqual([changed]);
  expect((await kits()).map(({ id }) => id)).toEqual([ownKit!.id]);
  expect(await sets()).toEqual([]);
  expect((await server.ask("listMarkets")).body).toEqual([]);
  await server.stop();
  await server.start();
  expect(await application().atStart(true, () => undefined)).toBe(false);
  expect(await stateOf()).toBe("removed");
});

test("an empty workspace is a choice that a later start respects", async () => {
  const other = new TestServer();
  await other.start();
  expect(await other.application.demo.atStart(false, () => undefined)).toBe(false);
  expect(await other.application.demo.atStart(true, () => undefined)).toBe(false);
  expect(await other.application.demo.state()).toBe("removed");
  await other.end();
});
