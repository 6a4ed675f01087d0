/** The exit kit beside the inputs. */
import type { LibraryKit } from "@plan-tester/contract";
import { EMPTY_KIT, type ExitKit } from "@plan-tester/core";
import { expect, test } from "vitest";
import { keyOf } from "../../data/keys.ts";
import { control, hold, type, withAnswers } from "../../testing.tsx";
import { KitChoice } from "./kit-choice.tsx";

const kitOf = (name: string, part: Partial<ExitKit> = {}): ExitKit => ({ ...EMPTY_KIT, name, ...part });
const entryOf = (id: string, kit: ExitKit): LibraryKit => ({
  ...{ id, name: kit.name, description: "", kit, createdMs: 1, updatedMs: 1, usedBy: [] },
});
const LIBRARY = [entryOf("w", kitOf("Wide", { entriesPerSession: 2 })), entryOf("n", kitOf("Narrow", { sides: "long" }))];
const shown = (first: ExitKit | null, library = LIBRARY) =>
  hold<ExitKit | null>(first, (value, onChange) =>
    withAnswers([[keyOf("listKits"), library]], <KitChoice kit={value} onChoose={onChange} />),
  );
const words = (host: HTMLElement): (string | null)[] => [...host.querySelectorAll("option")].map((option) => option.textContent);
const LABEL = "Kit of exits and limits";

test("one of the library is laid over the plan, another in its place, and none again", async () => {
  const form = await shown(null);
  expect(words(form.host)).toEqual(["no exit kit", "Wide", "Narrow"]);
  await type(control(form.host, LABEL), "n");
  expect(form.value()).toEqual(LIBRARY[1]!.kit);
  await type(control(form.host, LABEL), "w");
  expect(form.value()).toEqual(LIBRARY[0]!.kit);
  await type(control(form.host, LABEL), "");
  expect(form.value()).toBeNull();
});

test("one that is not in the library as it is, is shown as what it is", async () => {
  expect(words((await shown(kitOf("wide", { sides: "short" }))).host)).toContain("wide, changed");
  expect(words((await shown(kitOf("Mine"))).host)).toContain("Mine");
  expect(words((await shown(kitOf(" ", { sides: "short" }))).host)).toContain("an exit kit");
  // By what it does, whatever its name.
  const same = await shown(kitOf("other", { sides: "long" }));
  expect(words(same.host)).toEqual(["no exit kit", "Wide", "Narrow"]);
  expect((control(same.host, LABEL) as HTMLSelectElement).value).toBe("n");
});

test("without a kit and without a library there is nothing to choose", async () => {
  expect((await shown(null, [])).host.querySelector("select")).toBeNull();
});
