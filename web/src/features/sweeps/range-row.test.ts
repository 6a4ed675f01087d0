import { valuesOf } from "@plan-tester/contract";
import type { InputSpec } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { defaultRange } from "./range-row.tsx";

const spec = (more: Partial<InputSpec>): InputSpec => ({
  name: "x",
  kind: "whole",
  default: 20,
  label: "X",
  min: null,
  max: null,
  step: 1,
  unit: "",
  group: "",
  help: "",
  choices: [],
  ...more,
});

describe("a first guess of a range", () => {
  test.each([
    [spec({ min: 2, max: 200 }), 20],
    [spec({ min: 19, max: 21 }), 20],
    [spec({ kind: "decimal", min: 0.5, max: 5, step: 0.1 }), 2.2],
    [spec({ min: 10, max: 300, step: 5 }), 60],
    [spec({}), 1],
  ])("%o around %f stays inside the bounds and on the step", (declared, value) => {
    const range = defaultRange(declared, value);
    const values = valuesOf(range).map(Number);
    expect(values.length).toBeGreaterThan(1);
    expect(values.length).toBeLessThanOrEqual(12);
    for (const v of values) {
      if (declared.min !== null) expect(v).toBeGreaterThanOrEqual(declared.min);
      if (declared.max !== null) expect(v).toBeLessThanOrEqual(declared.max);
      if (declared.kind === "whole") expect(Number.isInteger(v)).toBe(true);
    }
  });

  test("switches and words vary over all they can be", () => {
    expect(valuesOf(defaultRange(spec({ kind: "yes-no", default: true }), true))).toEqual([false, true]);
    expect(valuesOf(defaultRange(spec({ kind: "choice", default: "a", choices: ["a", "b", "c"] }), "a"))).toEqual(["a", "b", "c"]);
  });
});
