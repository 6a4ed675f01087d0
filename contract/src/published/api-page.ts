/** The routes as a page for readers: `docs/api.md`. */
import { errorsOf, type Route, statusOf } from "../route.ts";
import { ROUTE_NAMES, ROUTES } from "../routes.ts";

const INTRODUCTION = `# API

Made from the table of routes in \`contract/src/routes.ts\`; a test keeps it so. \`openapi.json\` beside this page is the same for
programs, with every schema. All addresses begin with \`/api\` on the address that \`npm start\` prints. The server answers its own
pages and programs on this machine, no other origin.

- **Bodies** are JSON in UTF-8. Fields that are not known are refused; numbers are finite and bounded; dates exist.
- **Errors** are \`{ "error": { "code", "message", "details" } }\`. The code decides the status: 400 bad-input; 404 not-found;
  409 conflict, stopped; 413 limit; 422 the other bad- codes and plan-error; 503 unavailable; 507 storage. Any route may answer
  unavailable, each with input bad-input, each that writes storage, each with a name in its path not-found.
- **Columns** are typed arrays in one body: a 32-bit little-endian length, that many bytes of JSON
  (\`{ "meta", "columns": [{ "name", "length", "type" }] }\`, type f32 or u8, none for 64-bit floating point), then the columns end
  to end, head and columns padded to 8 bytes each.
- **Query** fields that are objects are written as JSON.
- \`PATCH\` changes the fields that it is given, \`PUT\` replaces. 201 is answered with what was created, 202 where work goes on
  after the answer, 204 where there is nothing to tell.

| route | name | takes | answers | fails with |
|---|---|---|---|---|
`;

const names = (schema: object): string => Object.keys((schema as { readonly properties?: object }).properties ?? {}).join(", ");

function takenBy({ query, body }: Route): string {
  const fields = query ? [`?${names(query.schema)}`] : [];
  if (body === "file") return [...fields, "the file"].join("; ");
  return body ? [...fields, names(body.schema)].join("; ") : fields.join("");
}

/** Codes that only some routes have. */
const own = (route: Route): string =>
  errorsOf(route)
    .filter((code) => !["unavailable", "bad-input", "storage"].includes(code) && !(code === "not-found" && route.path.includes(":")))
    .join(", ");

export function apiPage(): string {
  const rows = ROUTE_NAMES.map((name) => {
    const route: Route = ROUTES[name];
    const answer = route.reply === "nothing" ? "" : route.reply;
    return `| \`${route.method} ${route.path}\` | **${name}**: ${route.summary} | ${takenBy(route)} | ${[statusOf(route), answer].filter(Boolean).join(" ")} | ${own(route)} |`;
  });
  return `${INTRODUCTION}${rows.join("\n")}\n`;
}
