/** What is published about the API is that of its table. */
import { readFileSync } from "node:fs";
import SwaggerParser from "@apidevtools/swagger-parser";
import { beforeAll, expect, test } from "vitest";
import { addressOf, queryFrom, type Route } from "../route.ts";
import { ROUTE_NAMES, ROUTES } from "../routes.ts";
import { apiPage } from "./api-page.ts";
import { openApi } from "./openapi.ts";
import { makeReplySchemas } from "./reply-schemas.ts";

type Schemas = Parameters<typeof openApi>[0];
let schemas: Schemas;
beforeAll(() => {
  schemas = makeReplySchemas() as Schemas;
});

const text = (value: object): string => `${JSON.stringify(value, null, 1)}\n`;

test("schemas of the answers, OpenAPI file and page are fresh", async () => {
  await expect(text(schemas)).toMatchFileSnapshot("../replies.schema.json");
  await expect(text(openApi(schemas))).toMatchFileSnapshot("../../../docs/openapi.json");
  await expect(apiPage()).toMatchFileSnapshot("../../../docs/api.md");
});

test("every route that answers has a schema, no other has, and no two share method and path", () => {
  const answering = ROUTE_NAMES.filter((name) => !["nothing", "file"].includes(ROUTES[name].reply));
  expect(Object.keys(schemas.properties).sort()).toEqual([...answering].sort());
  const addresses = ROUTE_NAMES.map((name) => `${ROUTES[name].method} ${ROUTES[name].path.replace(/:\w+/g, ":")}`);
  expect(new Set(addresses).size).toBe(ROUTE_NAMES.length);
});

test("the published file is valid OpenAPI 3.1", async () => {
  const file = JSON.parse(readFileSync(new URL("../../../docs/openapi.json", import.meta.url), "utf8"));
  const api = await SwaggerParser.validate(file);
  const operations = Object.values(api.paths ?? {}).flatMap((item) => Object.keys(item ?? {}));
  expect(operations.length).toBe(ROUTE_NAMES.length);
});

test.each([
  ["getPlan", { id: "a/b" }, "/plans/a%2Fb"],
  [
    "getBars",
    { symbol: "XSC/ORM", timeframe: "10m", from: "2025-01-01", to: "2025-02-01" },
    "/markets/XSC%2FORM/bars?timeframe=10m&from=2025-01-01&to=2025-02-01",
  ],
  ["listRuns", { search: "", offset: 100 }, "/runs?offset=100"],
  ["stopWatch", { id: "w", flatten: true }, "/watches/w/stop?flatten=true"],
  ["importBars", { id: "i", spec: { a: 1 } }, "/imports/i?spec=%7B%22a%22%3A1%7D"],
] as const)("%s has the address that its fields say", (name, fields, address) => {
  expect(addressOf(ROUTES[name], fields)).toBe(address);
});

test("fields of an address come back as what their schema says", () => {
  const read = (name: keyof typeof ROUTES, given: Record<string, string>) => queryFrom((ROUTES[name] as Route).query!, given);
  expect(read("listRuns", { offset: "100", search: "7", limit: "ten" })).toEqual({ offset: 100, search: "7", limit: Number.NaN });
  expect(read("importBars", { spec: '{"a":1}' })).toEqual({ spec: { a: 1 } });
  expect(read("importBars", { spec: "{" })).toEqual({ spec: "{" });
  expect(read("listRuns", { unknown: "x" })).toEqual({ unknown: "x" });
});
