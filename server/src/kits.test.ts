/** The library of exit kits, by the API on a real SQLite file. */
import type { ApiError, KitBody, LibraryKit } from "@plan-tester/contract";
import { EMPTY_KIT, NO_EXITS } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(() => server.start());
afterAll(() => server.end());

const exits = { ...NO_EXITS, stopLoss: { unit: "ticks", value: 40 } } as const;
const WIDE: KitBody = {
  name: "Wide stops",
  description: "For slow plans",
  kit: { ...EMPTY_KIT, name: "called otherwise", long: exits, short: exits },
};

test("a kit is kept under its name, listed, replaced and deleted", async () => {
  const { status, body: made } = await server.ask("createKit", {}, WIDE);
  expect(status).toBe(201);
  expect(made).toMatchObject({ name: "Wide stops", description: "For slow plans", usedBy: [], kit: { name: "Wide stops", long: exits } });
  expect((await server.ask("listKits")).body).toEqual([made]);
  const { body: changed } = await server.ask("replaceKit", { id: made.id }, { ...WIDE, name: "Wider", description: "" });
  expect(changed).toMatchObject({ id: made.id, name: "Wider", description: "", createdMs: made.createdMs });
  expect((await server.ask("deleteKit", { id: made.id })).status).toBe(204);
  expect((await server.ask("listKits")).body).toEqual([]);
});

test("a name stands once, whatever its case; what is wrong is said and nothing is lost", async () => {
  const { body: made } = await server.ask("createKit", {}, WIDE);
  const refused = await server.call<ApiError>("POST", "/kits", { ...WIDE, name: "WIDE STOPS" });
  expect([refused.status, refused.body.error.message]).toEqual([409, expect.stringContaining('has an exit kit "WIDE STOPS" already')]);
  const { body: other } = await server.ask("createKit", {}, { ...WIDE, name: "Narrow" });
  expect((await server.call("PUT", `/kits/${other.id}`, { ...WIDE, name: "wide stops" })).status).toBe(409);
  // Its own name may be written otherwise.
  expect((await server.ask("replaceKit", { id: made.id }, { ...WIDE, name: "wide Stops" })).body.name).toBe("wide Stops");
  for (const bad of [{ ...WIDE, name: " " }, { ...WIDE, kit: { ...WIDE.kit, sides: "up" } }, { name: "x" }])
    expect((await server.call("POST", "/kits", bad)).status).toBe(400);
  expect((await server.call("PUT", "/kits/none", { ...WIDE, name: "Free" })).status).toBe(404);
  expect((await server.call("DELETE", "/kits/none")).status).toBe(404);
  expect((await server.ask("listKits")).body.map(({ name }) => name)).toEqual(["Narrow", "wide Stops"]);
});

test("says which plans and variants use it, and a change of it changes none of them", async () => {
  const [narrow] = (await server.ask("listKits")).body as [LibraryKit];
  const { id } = (await server.ask("createPlan", {}, { title: "A user" })).body;
  const settings = { ...SWING_SETTINGS, kit: { ...narrow.kit, name: "NARROW" } };
  expect((await server.ask("updatePlan", { id }, { settings })).status).toBe(200);
  for (const name of ["one", "two"]) await server.ask("createVariant", { id }, { name, inputs: {}, kit: narrow.kit, market: null });
  await server.ask("createVariant", { id }, { name: "none", inputs: {}, kit: null, market: null });
  const usedBy = async () => (await server.ask("listKits")).body.find((kit) => kit.id === narrow.id)!.usedBy;
  expect(await usedBy()).toEqual([{ planId: id, title: "A user", variants: 2 }]);
  await server.ask("replaceKit", { id: narrow.id }, { name: "Narrow", description: "", kit: EMPTY_KIT });
  expect((await server.ask("getPlan", { id })).body.settings.kit!.long).toEqual(exits);
});
