/** What every route refuses, whatever it is for: made from the table of routes, so that a new one is held to it too. */
import { paramsIn, ROUTE_NAMES, ROUTES, type Route, type RouteName } from "@plan-tester/contract";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(() => server.start());
afterAll(() => server.end());

interface Refusal {
  readonly status: number;
  readonly error: { readonly code: string; readonly message: string };
}

const NAMES = ROUTE_NAMES.filter((name) => (ROUTES[name] as Route).reply !== "events");
const routeOf = (name: RouteName): Route => ROUTES[name];
const hasBody = (name: RouteName): boolean => routeOf(name).body !== undefined && routeOf(name).body !== "file";
const addressWith = (name: RouteName, value: string): string =>
  routeOf(name).path.replace(":order", "7").replace(/:\w+/g, encodeURIComponent(value));

async function ask(name: RouteName, address: string, body?: string | Uint8Array<ArrayBuffer>, type = "application/json"): Promise<Refusal> {
  const response = await fetch(server.base + address, {
    method: routeOf(name).method,
    ...(body === undefined ? {} : { body, headers: { "Content-Type": type } }),
  });
  const text = await response.text();
  return { status: response.status, ...(text ? (JSON.parse(text) as Pick<Refusal, "error">) : { error: { code: "", message: "" } }) };
}

/** Watches are answered only once the venue is there, which these tests do without. */
const needsVenue = (name: RouteName): boolean => routeOf(name).path.startsWith("/watches") || routeOf(name).path.startsWith("/venue");
/** They are asked of plans that were never saved, or are gone: what was tried with one stays known. */
const TAKES_ANY_ID: readonly RouteName[] = ["listVariants", "getJournal", "getTrialContext", "listVersions", "getLastDraft"];

describe("a query that is not known", () => {
  test.each(NAMES)("%s says which part", async (name) => {
    const { status, error } = await ask(name, `${addressWith(name, "x")}?serach=kelp`, hasBody(name) ? "{}" : undefined);
    expect([status, error.code]).toEqual([400, "bad-input"]);
    expect(error.message).toMatch(/"serach" that is not known/);
  });
});

describe("a body that can't be", () => {
  const bodies = NAMES.filter(hasBody);
  test.each(bodies)("%s says what does not fit", async (name) => {
    for (const [sent, words] of [
      ["[]", /must be object/],
      ['{"colour":"red"}', /"colour" that is not known/],
    ] as const) {
      const { status, error } = await ask(name, addressWith(name, "x"), sent);
      expect([sent, status, error.code]).toEqual([sent, 400, "bad-input"]);
      expect(error.message).toMatch(words);
    }
  });
  test.each(bodies)("%s says that it is no JSON, or no text", async (name) => {
    for (const sent of ['{"title":', Uint8Array.of(0x7b, 0x22, 0xff, 0xfe, 0x22, 0x7d)]) {
      const { status, error } = await ask(name, addressWith(name, "x"), sent);
      expect([status, error.code]).toEqual([400, "bad-input"]);
      expect(error.message).not.toBe("");
    }
  });
});

describe("something that is not there", () => {
  const named = NAMES.filter(
    (name) => paramsIn(routeOf(name).path).length > 0 && !hasBody(name) && !routeOf(name).query && !routeOf(name).body,
  );
  test.each(named.filter((name) => !TAKES_ANY_ID.includes(name) && !needsVenue(name)))("%s says what is not there", async (name) => {
    const { status, error } = await ask(name, addressWith(name, "no-such-thing"));
    expect([status, error.code]).toEqual([404, "not-found"]);
    // In words, by its name or by what it is.
    expect(error.message).toMatch(/no-such-thing|not running|neither waiting nor running|is running/);
  });
  test.each(named.filter((name) => needsVenue(name)))("%s says that the venue is not there yet", async (name) => {
    expect(await ask(name, addressWith(name, "no-such-thing"))).toMatchObject({ status: 503, error: { code: "unavailable" } });
  });
  test.each(NAMES.filter((name) => paramsIn(routeOf(name).path).includes("id")))(
    "%s takes no name that could lead elsewhere",
    async (name) => {
      for (const id of ["..%2Fplans", "a b", "x".repeat(65), "a;b"]) {
        const { status, error } = await ask(
          name,
          routeOf(name)
            .path.replace(":order", "7")
            .replace(/:\w+/g, id.includes("%") ? id : encodeURIComponent(id)),
          hasBody(name) ? "{}" : undefined,
        );
        expect([id, status, error.code]).toEqual([id, 400, "bad-input"]);
      }
    },
  );
});

test("an address that there is not, and a method that it does not take, are said to be that", async () => {
  for (const [method, path] of [
    ["GET", "/plan"],
    ["DELETE", "/plans"],
    ["PUT", "/markets"],
  ] as const) {
    const { status, body } = await server.call<{ error: { code: string; message: string } }>(method, path);
    expect([method, path, status, body.error.code]).toEqual([method, path, 404, "not-found"]);
    expect(body.error.message).toContain(path);
  }
});
