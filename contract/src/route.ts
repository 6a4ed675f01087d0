/**
 * What a route is: method, path, what it takes, what it answers, and how it fails. From a table of them (`routes.ts`) come the
 * server's checks, the clients' types and the published description of the API.
 */
import type { ErrorCode } from "@plan-tester/core";
import { type Checked, check } from "./validate.ts";

/** A JSON schema with the type that it is checked to be, and what messages call it. `Sent`: before its defaults are filled in. */
export interface Shape<T, Sent = T> extends Checked<T> {
  readonly what: string;
  /** For the type alone. */
  readonly isSent?: Sent;
}

export const shape = <T, Sent = T>(schema: object, what: string): Shape<T, Sent> => ({ schema, what });

/** The value as the shape's type, defaults filled in. @throws PlanTesterError bad-input naming every field that does not fit. */
export const checkShape = <T>({ schema, what }: Shape<T>, value: unknown): T => check<T>(schema, value, what);

/**
 * How an answer comes: as JSON, as typed arrays behind a JSON head (`binary.ts`), as the bytes of a file, as a stream of
 * events, or not at all.
 * Its type is that of the route's name in `Replies`.
 */
export type ReplyKind = "json" | "columns" | "file" | "events" | "nothing";

export interface Route {
  readonly method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
  /** Below /api; names after a colon are parameters. */
  readonly path: `/${string}`;
  readonly summary: string;
  /** Fields of the address after the question mark. An object among them is written as JSON. */
  readonly query?: Shape<unknown>;
  /** JSON, or the bytes of a file. */
  readonly body?: Shape<unknown> | "file";
  readonly reply: ReplyKind;
  /** Of success: 200 where nothing else is said, 204 for no answer. */
  readonly status?: 201 | 202;
  /** Beyond what any route may answer. */
  readonly errors?: readonly ErrorCode[];
}

type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

/** Parameters in the path, by name. */
export type ParamsOf<R extends Route> = Readonly<Record<NamesIn<R["path"]>, string>>;
export type QueryOf<R extends Route> = R extends { readonly query: Shape<infer Query, unknown> } ? Query : Record<never, never>;
/** What a client writes into the query. */
export type SentQueryOf<R extends Route> = R extends { readonly query: Shape<unknown, infer Sent> } ? Sent : Record<never, never>;
export type BodyOf<R extends Route> = R extends { readonly body: Shape<infer Body, unknown> }
  ? Body
  : R extends { readonly body: "file" }
    ? Blob | string
    : undefined;

/** Whether it takes anything that could be wrong. */
const takesInput = ({ path, query, body }: Route): boolean => path.includes(":") || query !== undefined || body !== undefined;

/** All codes with which a route can fail. */
export function errorsOf(route: Route): ErrorCode[] {
  const { path, method, errors = [], body } = route;
  const always: ErrorCode[] = ["unavailable"];
  if (takesInput(route)) always.push("bad-input");
  if (path.includes(":")) always.push("not-found");
  if (method !== "GET") always.push("storage");
  if (body !== undefined) always.push("limit");
  return [...new Set([...always, ...errors])].sort();
}

export const statusOf = ({ reply, status }: Route): number => status ?? (reply === "nothing" ? 204 : 200);

/** Names of the parameters in a path. */
export const paramsIn = (path: string): string[] => [...path.matchAll(/:(\w+)/g)].map(([, name]) => name!);

type Field = string | number | boolean | object | null | undefined;

/** Path and query of a request. Fields that the path names go there, the others into the query; what is undefined or "" is left out. */
export function addressOf({ path }: Route, fields: Readonly<Record<string, Field>> = {}): string {
  const named = new Set(paramsIn(path));
  const query = new URLSearchParams(
    Object.entries(fields)
      .filter(([name, value]) => !named.has(name) && value !== undefined && value !== "")
      .map(([name, value]): [string, string] => [name, typeof value === "object" ? JSON.stringify(value) : String(value)]),
  ).toString();
  const filled = path.replace(/:(\w+)/g, (_whole, name: string) => encodeURIComponent(String(fields[name])));
  return query ? `${filled}?${query}` : filled;
}

/** The fields of an address as their schema has them: all come as text. */
export function queryFrom({ schema }: Shape<unknown>, given: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const { properties } = schema as { readonly properties: Readonly<Record<string, { readonly type?: string }>> };
  const read = (text: string, type: string | undefined): unknown => {
    if (type === "integer" || type === "number") return text.trim() === "" ? text : Number(text);
    if (type !== "object" && type !== "array") return text;
    try {
      return JSON.parse(text);
    } catch {
      // The check says what it should be.
      return text;
    }
  };
  return Object.fromEntries(
    Object.entries(given).map(([name, value]) => [name, typeof value === "string" ? read(value, properties[name]?.type) : value]),
  );
}
