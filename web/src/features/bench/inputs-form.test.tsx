import type { InputSpec, InputValue } from "@plan-tester/core";
import { act, useState } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { InputsForm } from "./inputs-form.tsx";

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

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

let host: HTMLDivElement;
let root: Root;
let values: Record<string, InputValue>;

function Harness({ readOnly = false }: { readonly readOnly?: boolean }) {
  const [current, setCurrent] = useState<Record<string, InputValue>>({});
  values = current;
  return <InputsForm specs={SPECS} values={current} readOnly={readOnly} onChange={setCurrent} />;
}

beforeEach(async () => {
  host = document.createElement("div");
  document.body.append(host);
  root = createRoot(host);
  await act(async () => root.render(<Harness />));
});
afterEach(async () => {
  await act(async () => root.unmount());
  host.remove();
});

const field = (label: string): HTMLInputElement => {
  const labelElement = [...host.querySelectorAll("label")].find((element) => element.textContent?.startsWith(label));
  return host.querySelector(`#${CSS.escape(labelElement!.htmlFor)}`) as HTMLInputElement;
};

async function type(input: HTMLInputElement, text: string): Promise<void> {
  await act(async () => {
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!.call(input, text);
    input.dispatchEvent(new Event("input", { bubbles: true }));
  });
}

describe("the form of a declaration", () => {
  test("shows defaults, units and groups", () => {
    expect(field("span").value).toBe("20");
    expect(field("from").value).toBe("08:15");
    expect(host.textContent).toContain("bars");
    expect([...host.querySelectorAll("h3")].map((head) => head.textContent)).toEqual(["Averages"]);
  });

  test("takes a value that fits, and marks it as changed", async () => {
    await type(field("span"), "30");
    expect(values).toEqual({ span: 30 });
    expect(host.textContent).toContain("(changed)");
    expect(host.textContent).toContain("Reset 1 changed input");
  });

  test("keeps a value that does not fit to itself, and says why", async () => {
    await type(field("span"), "99");
    expect(values).toEqual({});
    expect(field("span").getAttribute("aria-invalid")).toBe("true");
    expect(field("span").title).toMatch(/the most is 50/);
  });

  test("arrow keys step within the bounds", async () => {
    const key = (name: string) =>
      act(async () => void field("span").dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true })));
    await key("ArrowUp");
    expect(values).toEqual({ span: 21 });
    for (let i = 0; i < 40; i++) await key("ArrowDown");
    expect(values).toEqual({ span: 2 });
  });

  test("one reset takes everything back", async () => {
    await type(field("span"), "30");
    await act(async () => field("both").click());
    expect(values).toEqual({ span: 30, both: false });
    const reset = [...host.querySelectorAll("button")].find((button) => button.textContent?.includes("Reset 2 changed inputs"));
    await act(async () => reset!.click());
    expect(values).toEqual({});
  });
});
