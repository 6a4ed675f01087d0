/** Checks data against a schema of the contract and says in words what does not fit. */
import { PlanTesterError } from "@plan-tester/core";
import { Ajv, type ErrorObject, type ValidateFunction } from "ajv";
import { LEAST_POSITIVE } from "./bounds.ts";

const ajv = new Ajv({ allErrors: true, useDefaults: true, allowUnionTypes: true, coerceTypes: false, verbose: true, discriminator: true });
/** A day that there is: 2025-02-30 is none. */
ajv.addFormat("calendar-date", (text: string) => {
  const day = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(text);
});
/** A schema whose values are of a type. */
export interface Checked<T> {
  readonly schema: object;
  /** For the type alone. */
  readonly is?: T;
}

/** Problems that a message names; all are in its details. */
const MAX_TOLD = 6;

const compiled = new WeakMap<object, ValidateFunction>();

function inWords(error: ErrorObject, what: string): string {
  const where = error.instancePath ? error.instancePath.slice(1).replaceAll("/", ".") : what;
  const got = error.data !== null && typeof error.data === "object" ? "" : ` (it is ${JSON.stringify(error.data)?.slice(0, 60)})`;
  if (error.keyword === "additionalProperties") return `${where} has a field "${error.params.additionalProperty}" that is not known`;
  if (error.keyword === "required") return `${where} lacks "${error.params.missingProperty}"`;
  if (error.keyword === "enum") return `${where} must be one of ${error.params.allowedValues.join(", ")}${got}`;
  if (error.keyword === "minimum" && error.params.limit === LEAST_POSITIVE && Number(error.data) <= 0) return `${where} must be > 0${got}`;
  if (error.keyword === "discriminator")
    return `${where} has no "${error.params.tag}" that is known (it is ${JSON.stringify(error.params.tagValue)})`;
  if (error.keyword === "format") return `${where} is no day of the calendar${got}`;
  return `${where} ${error.message}${got}`;
}

function validatorOf(schema: object): ValidateFunction {
  let validate = compiled.get(schema);
  if (!validate) {
    validate = ajv.compile(schema);
    compiled.set(schema, validate);
  }
  return validate;
}

/** Compiles schemas ahead of their first use, which would take up to a fifth of a second. */
export function prepareSchemas(schemas: Iterable<object>): void {
  for (const schema of schemas) validatorOf(schema);
}

/**
 * The value as `T`, the type derived from the schema, defaults filled in (the value itself is changed by that).
 * @throws PlanTesterError bad-input naming every field that does not fit.
 */
export function check<T>(schema: object, value: unknown, what: string): T {
  const validate = validatorOf(schema);
  if (validate(value)) return value as T;
  const problems = [
    ...new Set(
      (validate.errors ?? [])
        .filter((error) => error.keyword !== "anyOf" || validate.errors!.length === 1)
        // A misspelt name first: it is often why another is missing.
        .sort((a, b) => Number(b.keyword === "additionalProperties") - Number(a.keyword === "additionalProperties"))
        .map((error) => inWords(error, what)),
    ),
  ];
  const more = problems.length > MAX_TOLD ? `; and ${problems.length - MAX_TOLD} more` : "";
  throw new PlanTesterError("bad-input", `${problems.slice(0, MAX_TOLD).join("; ")}${more}.`, { problems });
}
