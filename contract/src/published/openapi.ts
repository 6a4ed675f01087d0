/** The routes as an OpenAPI 3.1 description (https://spec.openapis.org/oas/v3.1.0). */
import { errorsOf, paramsIn, type Route, statusOf } from "../route.ts";
import { ROUTE_NAMES, ROUTES } from "../routes.ts";
import { SHARED_SCHEMAS } from "../schemas.ts";

interface ReplySchemas {
  readonly properties: Readonly<Record<string, object>>;
  readonly definitions: Readonly<Record<string, object>>;
}

const ERROR = { $ref: "#/components/schemas/ApiError" } as const;
const TEXTS: Readonly<Record<string, string>> = { 200: "Done", 201: "Created", 202: "Begun", 204: "Done; nothing to tell" };

/** Schemas that stand in many places are written once. */
const NAMED = new Map(Object.entries(SHARED_SCHEMAS).map(([name, schema]) => [JSON.stringify(schema), name]));

/** Names of components are plain words: those of generic types have brackets. */
const componentName = (name: string): string => name.replace(/[^\w.-]+/g, "-").replace(/-+$/, "");
const componentAt = (name: string): string => `#/components/schemas/${componentName(decodeURIComponent(name))}`;

/** A schema, or a reference to it where it has a name. */
function named(schema: unknown): unknown {
  const name = schema !== null && typeof schema === "object" ? NAMED.get(JSON.stringify(schema)) : undefined;
  return name ? { $ref: componentAt(name) } : inOpenApi(schema);
}

/** Definitions stand elsewhere in an OpenAPI file, and `nullable` is a word of Ajv's. */
function inOpenApi(schema: unknown): unknown {
  if (Array.isArray(schema)) return schema.map(named);
  if (schema === null || typeof schema !== "object") return schema;
  const { nullable, ...rest } = schema as Record<string, unknown>;
  const moved = Object.fromEntries(
    Object.entries(rest).map(([key, value]) => [
      key,
      key === "$ref" && typeof value === "string" ? componentAt(value.slice("#/definitions/".length)) : named(value),
    ]),
  );
  return nullable === true ? { anyOf: [{ type: "null" }, moved] } : moved;
}

function contentOf({ reply }: Route, schema: object | undefined): object {
  if (reply === "nothing") return {};
  if (reply === "events") return { content: { "text/event-stream": { schema: inOpenApi(schema) } } };
  if (reply === "json") return { content: { "application/json": { schema: inOpenApi(schema) } } };
  if (reply === "file") return { content: { "application/octet-stream": { schema: { type: "string", format: "binary" } } } };
  const head = {
    type: "string",
    contentMediaType: "application/octet-stream",
    description: "Columns behind a JSON head; see docs/api.md.",
  };
  return { content: { "application/octet-stream": { schema: { ...head, "x-head": inOpenApi(schema) } } } };
}

function parametersOf({ path, query }: Route): object[] {
  const inPath = paramsIn(path).map((name) => ({ name, in: "path", required: true, schema: { type: "string" } }));
  if (!query) return inPath;
  const { properties, required = [] } = query.schema as {
    readonly properties: Readonly<Record<string, { readonly type?: string }>>;
    readonly required?: readonly string[];
  };
  const inQuery = Object.entries(properties).map(([name, schema]) => ({
    ...{ name, in: "query", required: required.includes(name) },
    ...(schema.type === "object" ? { content: { "application/json": { schema: inOpenApi(schema) } } } : { schema: inOpenApi(schema) }),
  }));
  return [...inPath, ...inQuery];
}

function operationOf(name: string, route: Route, schema: object | undefined): object {
  const { summary, body } = route;
  const content =
    body === "file"
      ? { "text/csv": { schema: { type: "string", contentMediaType: "text/csv" } } }
      : body && { "application/json": { schema: named(body.schema) } };
  return {
    operationId: name,
    summary,
    parameters: parametersOf(route),
    ...(content ? { requestBody: { required: true, content } } : {}),
    responses: {
      [statusOf(route)]: { description: TEXTS[statusOf(route)], ...contentOf(route, schema) },
      default: { description: `Fails with ${errorsOf(route).join(", ")}`, content: { "application/json": { schema: ERROR } } },
    },
  };
}

export function openApi({ properties, definitions }: ReplySchemas): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const name of ROUTE_NAMES) {
    const route: Route = ROUTES[name];
    const path = route.path.replace(/:(\w+)/g, "{$1}");
    paths[path] = { ...paths[path], [route.method.toLowerCase()]: operationOf(name, route, properties[name]) };
  }
  return {
    openapi: "3.1.0",
    info: {
      title: "Plan Tester",
      version: "1",
      description: "The API of the server on this machine. It answers its own pages and programs, no other origin.",
    },
    servers: [{ url: "/api" }],
    paths,
    components: {
      schemas: {
        ...Object.fromEntries(
          Object.entries({ ...SHARED_SCHEMAS, ...definitions }).map(([name, schema]) => [componentName(name), inOpenApi(schema)]),
        ),
        ApiError: {
          type: "object",
          required: ["error"],
          properties: {
            error: {
              type: "object",
              required: ["code", "message", "details"],
              properties: { code: { type: "string" }, message: { type: "string" }, details: { type: "object" } },
            },
          },
        },
      },
    },
  };
}
