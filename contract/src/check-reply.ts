/** For tests: whether what a route answered is what it says. */
import { Ajv } from "ajv";
import schemas from "./replies.schema.json" with { type: "json" };
import type { RouteName } from "./routes.ts";

const ajv = new Ajv({ strict: false, allErrors: true, allowUnionTypes: true });
ajv.addFormat("calendar-date", true);
ajv.addSchema(schemas, "replies");

/** @throws Error naming what does not fit. */
export function checkReply(name: RouteName, answer: unknown): void {
  const validate = ajv.getSchema(`replies#/properties/${name}`)!;
  if (!validate(answer)) throw new Error(`${name} answers what its type does not say: ${ajv.errorsText(validate.errors).slice(0, 600)}`);
}
