import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { shippedPackages, thirdPartyText } from "./third-party.mjs";

test("the list of third-party code is that of the installed packages", () => {
  expect(readFileSync(new URL("../THIRD-PARTY.md", import.meta.url), "utf8")).toBe(thirdPartyText());
});

test("every package that ships says its licence, and none asks for the app's own source", () => {
  const packages = shippedPackages();
  expect(packages.length).toBeGreaterThan(100);
  expect(packages.filter(({ licence }) => /not said|UNLICENSED|\bA?GPL/.test(licence)).map(({ name }) => name)).toEqual([]);
});
