import type { InputSpec, InputValue } from "@plan-tester/core";
import { act } from "react";
import { beforeEach, describe, expect, test } from "vitest";
import { click, control, type Held, hold, press, type } from "../../testing.tsx";
import { InputsForm } from "./inputs-form.tsx";

const spec = (name: string, more: Partial<InputSpec>): InputSpec => ({
  name,
  kind: "whole",
  default: 20,
  label: name,
  min: null,
  max: null,
  step: 1,
  unit: "",
  group: "",
  help: "",
  choices: [],
  ...more,
});
const SPECS: readonly InputSpec[] = [
  spec("span", { min: 2, max: 50, unit: "bars", group: "Averages" }),
  spec("both", { kind: "yes-no", default: true }),
  spec("way", { kind: "choice", default: "up", choices: ["up", "down"] }),
  spec("from", { kind: "time", default: "08:15" }),
];

let form: Held<Record<string, InputValue>>;

beforeEach(async () => {
  form = await hold<Record<string, InputValue>>({}, (values, onChange) => (
    <InputsForm specs={SPECS} values={values} readOnly={false} onChange={onChange} />
  ));
});

const field = (label: string) => control(form.host, label) as HTMLInputElement;

describe("the form of a declaration", () => {
  test("shows defaults, units and groups", () => {
    expect(field("span").value).toBe("20");
    expect(field("from").value).toBe("08:15");
    expect(form.host.textContent).toContain("bars");
    expect([...form.host.querySelectorAll("h3")].map((head) => head.textContent)).toEqual(["Averages"]);
  });

  test("takes a value that fits, and marks it as changed", async () => {
    await type(field("span"), "30");
    expect(form.value()).toEqual({ span: 30 });
    expect(form.host.textContent).toContain("(changed)");
    expect(form.host.textContent).toContain("Reset 1 changed input");
  });

  test("keeps a value that does not fit to itself, and says why", async () => {
    await type(field("span"), "99");
    expect(form.value()).toEqual({});
    expect(field("span").getAttribute("aria-invalid")).toBe("true");
    expect(field("span").title).toMatch(/the most is 50/);
  });

  test("arrow keys step within the bounds", async () => {
    const key = (name: string) =>
      act(async () => void field("span").dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true })));
    await key("ArrowUp");
    expect(form.value()).toEqual({ span: 21 });
    for (let i = 0; i < 40; i++) await key("ArrowDown");
    expect(form.value()).toEqual({ span: 2 });
  });

  test("one reset takes everything back", async () => {
    await type(field("span"), "30");
    await click(field("both"));
    expect(form.value()).toEqual({ span: 30, both: false });
    await press(form.host, "Reset 2 changed inputs");
    expect(form.value()).toEqual({});
  });
});
