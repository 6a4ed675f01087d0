/** The routes of the contract, served: what comes in is checked by their schemas, what goes out is what their types say. */
import {
  type BodyOf,
  check,
  checkShape,
  errorsOf,
  type ParamsOf,
  paramsIn,
  type QueryOf,
  queryFrom,
  type ReplyOf,
  ROUTE_NAMES,
  ROUTES,
  type Route,
  type RouteName,
  type RouteOf,
  statusOf,
  unpackColumns,
} from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import express, { type Request, type RequestHandler, type Response, Router } from "express";
import { refuseBrokenText } from "./guard.ts";

/** An answer as bytes that are there already, piece by piece: nothing is copied into one text. JSON text or packed columns, by the route. */
export class Pieces {
  readonly pieces: readonly Uint8Array[];

  constructor(pieces: readonly Uint8Array[]) {
    this.pieces = pieces;
  }
}

export interface Given<Name extends RouteName> {
  readonly params: ParamsOf<RouteOf<Name>>;
  readonly query: QueryOf<RouteOf<Name>>;
  readonly body: BodyOf<RouteOf<Name>>;
}

type Answer<Name extends RouteName> = RouteOf<Name>["reply"] extends "columns" | "file" ? Pieces : ReplyOf<Name> | Pieces;

type Handler<Name extends RouteName> = RouteOf<Name>["reply"] extends "nothing"
  ? (given: Given<Name>, request: Request) => void | Promise<void>
  : (given: Given<Name>, request: Request) => Answer<Name> | Promise<Answer<Name>>;

export type Handlers = { readonly [Name in RouteName]: RouteOf<Name>["reply"] extends "events" ? RequestHandler : Handler<Name> };
/** The handlers of one feature. */
export type HandlersOf<Name extends RouteName> = Pick<Handlers, Name>;

/** For tests. @throws Error when an answer is not what its type says. */
export type ReplyCheck = (name: RouteName, answer: unknown) => void;

const PARAMS: Readonly<Record<string, object>> = {
  id: { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" },
  symbol: { type: "string", minLength: 1, maxLength: 24 },
  account: { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" },
  owner: { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" },
  order: { type: "string", pattern: "^-?[0-9]{1,12}$" },
};

/** What a route that takes no query takes: a misspelt filter would otherwise be passed over. */
const NO_QUERY = { type: "object", additionalProperties: false };

function checkParams(path: string, given: Readonly<Record<string, unknown>>): void {
  for (const name of paramsIn(path)) check(PARAMS[name]!, given[name], `the ${name} in the address`);
}

const BYTES = "application/octet-stream";
const TEXT = "application/json; charset=utf-8";

function sendPieces(response: Response, pieces: readonly Uint8Array[], type: string): void {
  response.set({ "Content-Type": type, "Content-Length": String(pieces.reduce((sum, { length }) => sum + length, 0)) });
  for (const piece of pieces) response.write(piece);
  response.end();
}

/** What was sent, as who asked reads it. */
function readBack({ reply }: Route, answer: unknown): unknown {
  if (!(answer instanceof Pieces)) return JSON.parse(JSON.stringify(answer));
  const bytes = Buffer.concat(answer.pieces);
  if (reply === "json") return JSON.parse(bytes.toString());
  return unpackColumns(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer).meta;
}

/** Any of them: what it is given has been checked by its route. */
type AnyHandler = (given: object, request: Request) => unknown;

function handlerOf(name: RouteName, handle: AnyHandler, checkReply: ReplyCheck | null): RequestHandler {
  const route: Route = ROUTES[name];
  const { path, query, body, reply } = route;
  return async (request, response) => {
    checkParams(path, request.params);
    const given = {
      params: request.params,
      query: query ? checkShape(query, queryFrom(query, { ...request.query })) : check<object>(NO_QUERY, { ...request.query }, "the query"),
      body: body && body !== "file" ? checkShape(body, request.body) : undefined,
    };
    let answer: unknown;
    try {
      answer = await handle(given, request);
    } catch (error) {
      if (checkReply && error instanceof PlanTesterError && !errorsOf(route).includes(error.code))
        throw new Error(`${name} fails with ${error.code}, which its route does not name: ${error.message}`);
      throw error;
    }
    if (checkReply && reply !== "nothing" && reply !== "file") checkReply(name, readBack(route, answer));
    response.status(statusOf(route));
    if (reply === "nothing") response.end();
    else if (answer instanceof Pieces) sendPieces(response, answer.pieces, reply === "json" ? TEXT : BYTES);
    else response.json(answer);
  };
}

/** @param checkReply asked about each answer; null outside tests. */
export function serve(handlers: Handlers, checkReply: ReplyCheck | null): Router {
  const router = Router();
  const readJson = express.json({ limit: "2mb", verify: refuseBrokenText });
  for (const name of ROUTE_NAMES) {
    const { method, path, body, reply }: Route = ROUTES[name];
    const add = router[method.toLowerCase() as "get" | "post" | "put" | "patch" | "delete"].bind(router);
    if (reply === "events") add(path, handlers[name] as RequestHandler);
    else {
      const handler = handlerOf(name, handlers[name] as AnyHandler, checkReply);
      if (body && body !== "file") add(path, readJson, handler);
      else add(path, handler);
    }
  }
  return router;
}
