/** Texts with named fields between double braces: "{{watch}}: {{text}}". */
import { TEMPLATE_FIELDS, type TemplateField } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";

const FIELD = /\{\{\s*([^{}]*?)\s*\}\}/g;

const isField = (name: string): name is TemplateField => TEMPLATE_FIELDS.some((field) => field === name);

/** @throws PlanTesterError bad-input naming a field that there is none of. */
export function checkTemplate(template: string, what: string): void {
  for (const [whole, name] of template.matchAll(FIELD))
    if (!isField(name!))
      throw new PlanTesterError(
        "bad-input",
        `${what} names ${whole}; there are ${TEMPLATE_FIELDS.map((field) => `{{${field}}}`).join(", ")}.`,
        {
          field: name,
        },
      );
}

/** @param asJson the text is JSON: what is filled in keeps it so. */
export function fill(template: string, fields: Readonly<Record<TemplateField, string>>, asJson = false): string {
  return template.replace(FIELD, (whole, name: string) => {
    if (!isField(name)) return whole;
    return asJson ? JSON.stringify(fields[name]).slice(1, -1) : fields[name];
  });
}
