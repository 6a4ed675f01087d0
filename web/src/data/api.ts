/** The one door to the server: its routes by name. A failed request becomes an ApiFailure with the server's own words. */
import {
  type ApiError,
  addressOf,
  type CallOf,
  type Packed,
  type ReplyOf,
  ROUTES,
  type Route,
  type RouteName,
  type RouteOf,
  unpackColumns,
} from "@plan-tester/contract";

export class ApiFailure extends Error {
  readonly code: string;
  readonly details: Readonly<Record<string, unknown>>;

  constructor(code: string, message: string, details: Readonly<Record<string, unknown>> = {}) {
    super(message);
    this.name = "ApiFailure";
    this.code = code;
    this.details = details;
  }
}

/** Requests that outlive their page may carry this much in all, bytes; browsers refuse more (Fetch standard, keepalive). */
const MAX_KEEPALIVE_BYTES = 60_000;

interface CallOptions {
  readonly outlivesPage?: boolean;
  readonly signal?: AbortSignal;
}

async function request(route: Route, address: string, body: unknown, { outlivesPage = false, signal }: CallOptions): Promise<Response> {
  const isFile = route.body === "file";
  const payload = route.body === undefined ? null : isFile ? (body as BodyInit) : JSON.stringify(body);
  let response: Response;
  try {
    response = await fetch(`/api${address}`, {
      method: route.method,
      body: payload,
      keepalive: outlivesPage && typeof payload === "string" && new Blob([payload]).size <= MAX_KEEPALIVE_BYTES,
      ...(signal && { signal }),
      ...(payload === null ? {} : { headers: { "Content-Type": isFile ? "text/csv" : "application/json" } }),
    });
  } catch {
    if (signal?.aborted) throw new ApiFailure("stopped", "Stopped before it was done.");
    throw new ApiFailure(
      "unavailable",
      "The server does not answer. Is npm start still running? Changes to plans are kept in this browser and sent when it answers.",
    );
  }
  if (response.ok) return response;
  const answer = (await response.json().catch(() => null)) as ApiError | null;
  throw new ApiFailure(
    answer?.error.code ?? "unavailable",
    answer?.error.message ?? `The server answered ${response.status}.`,
    answer?.error.details,
  );
}

/** What a call gives: JSON as its type, columns unpacked. */
export type Called<Name extends RouteName> = RouteOf<Name>["reply"] extends "columns"
  ? Packed<ReplyOf<Name>>
  : RouteOf<Name>["reply"] extends "file"
    ? Blob
    : ReplyOf<Name>;

async function send<Name extends RouteName>(name: Name, given: CallOf<Name>, options: CallOptions): Promise<Called<Name>> {
  const route: Route = ROUTES[name];
  const [fields = {}, body] = given as readonly [fields?: Record<string, never>, body?: unknown];
  const response = await request(route, addressOf(route, fields), body, options);
  if (route.reply === "nothing") return undefined as Called<Name>;
  if (route.reply === "file") return (await response.blob()) as Called<Name>;
  if (route.reply === "columns") return unpackColumns(await response.arrayBuffer()) as Called<Name>;
  return (await response.json()) as Called<Name>;
}

/** Calls a route: `call("getPlan", { id })`. Fields of path and query come first, then the body. @throws ApiFailure */
export const call = <Name extends RouteName>(name: Name, ...given: CallOf<Name>): Promise<Called<Name>> => send(name, given, {});

/** As `call`, by a page that may go before the answer comes. */
export const callLeaving = <Name extends RouteName>(name: Name, ...given: CallOf<Name>): Promise<Called<Name>> =>
  send(name, given, { outlivesPage: true });

/** As `call`, until it is stopped. @throws ApiFailure stopped then */
export const callUntil = <Name extends RouteName>(signal: AbortSignal, name: Name, ...given: CallOf<Name>): Promise<Called<Name>> =>
  send(name, given, { signal });

export function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
