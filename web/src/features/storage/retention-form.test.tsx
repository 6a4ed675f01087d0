import type { RetentionRules } from "@plan-tester/contract";
import { expect, test, vi } from "vitest";
import { control, press, show, type } from "../../testing.tsx";
import { RetentionForm } from "./retention-form.tsx";

const RULES: RetentionRules = { binDays: 14, batchRunDays: null, dailyReturnDays: 90 };
const form = async () => {
  const onSave = vi.fn<(rules: RetentionRules) => void>();
  const host = await show(<RetentionForm rules={RULES} isSaving={false} onSave={onSave} />);
  const save = [...host.querySelectorAll("button")].find(({ textContent }) => textContent === "Save the rules")!;
  return { host, onSave, save };
};

test("nothing typed is never, and only what is changed can be saved", async () => {
  const { host, onSave, save } = await form();
  expect(save.disabled).toBe(true);
  await type(control(host, "Background runs"), "30");
  await type(control(host, "Daily returns"), "");
  await press(host, "Save the rules");
  expect(onSave).toHaveBeenCalledWith({ binDays: 14, batchRunDays: 30, dailyReturnDays: null });
});

test.each([
  ["Background runs", "1.5", /whole number from 1 to 3650, or nothing/],
  ["Background runs", "0", /from 1 to 3650/],
  ["Daily returns", "soon", /whole number/],
  ["Daily returns", "3651", /from 1 to 3650/],
  ["What is in the bin", "", /whole number from 1 to 3650\./],
])("%s after %j days is refused at its field", async (label, text, words) => {
  const { host, save } = await form();
  await type(control(host, label), text);
  expect(host.querySelector("[role=alert]")?.textContent).toMatch(words);
  expect(save.disabled).toBe(true);
});
