/** The library of exit kits in the form of one. */
import type { LibraryKit } from "@plan-tester/contract";
import { EMPTY_KIT, type ExitKit, NO_EXITS } from "@plan-tester/core";
import { afterEach, expect, test, vi } from "vitest";
import { keyOf } from "../../data/keys.ts";
import { hold, press, serving, withAnswers } from "../../testing.tsx";
import { isSameKit } from "../inputs/same-kit.ts";
import { KitLibrary } from "./kit-library.tsx";

afterEach(() => vi.unstubAllGlobals());

const exits = { ...NO_EXITS, stopLoss: { unit: "ticks", value: 40 } } as const;
const kit: ExitKit = { ...EMPTY_KIT, name: "Wide", long: exits, short: exits };
const entry: LibraryKit = {
  ...{ id: "w", name: "Wide", description: "For slow plans", kit, createdMs: 1, updatedMs: 1 },
  usedBy: [
    { planId: "a", title: "A", variants: 2 },
    { planId: "b", title: "B", variants: 1 },
  ],
};
const shown = (first: ExitKit | null) =>
  hold<ExitKit | null>(first, (value, onChange) =>
    withAnswers([[keyOf("listKits"), [entry]]], <KitLibrary kit={value} onUse={onChange} />),
  );

test("a kit is taken from it, with who uses it beside", async () => {
  const form = await shown(null);
  expect(form.host.textContent).toContain("2 plans, 3 variants");
  expect(form.host.textContent).toContain("For slow plans");
  await press(form.host, "Wide");
  expect(form.value()).toEqual(kit);
});

test.each([
  ["as it is there", kit, "“Wide” is in the library as it is here."],
  ["changed", { ...kit, name: "wide", sides: "long" as const }, "Replace “Wide” in the library"],
  ["another", { ...kit, name: "Narrow" }, "Put this kit into the library"],
  ["without a name", { ...kit, name: " " }, "Give it a name first."],
])("a kit that is %s", async (_what, present, words) => {
  const form = await shown(present);
  expect(form.host.textContent).toContain(words);
});

test("one that was changed takes the place of the one of its name", async () => {
  const asked = serving((what) => (what.startsWith("GET") ? [entry] : entry));
  const changed = { ...kit, sides: "long" as const };
  const form = await shown(changed);
  await press(form.host, "Replace “Wide” in the library");
  expect(asked[0]).toMatchObject({ what: "PUT /kits/w", body: { name: "Wide", description: "For slow plans", kit: changed } });
});

test("what is the same does not depend on the order of fields, nor on the name", () => {
  const { name: _name, ...rest } = kit;
  expect(isSameKit(kit, { ...rest, name: "other" })).toBe(true);
  expect(isSameKit(kit, { ...kit, onePosition: !kit.onePosition })).toBe(false);
});
