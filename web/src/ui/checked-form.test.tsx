import { expect, test, vi } from "vitest";
import { control, press, show, type } from "../testing.tsx";
import { CheckedForm } from "./checked-form.tsx";
import { NumberField } from "./number-field.tsx";

test("a form with a field that does not fit is not sent, and the field has the keyboard; one that is switched off counts for nothing", async () => {
  const onSubmit = vi.fn<() => void>();
  const host = await show(
    <CheckedForm onSubmit={onSubmit}>
      <NumberField label="Off" value={-1} min={0} disabled onChange={() => undefined} />
      <NumberField label="Size" value={2} min={1} onChange={() => undefined} />
      <button type="submit">Start</button>
    </CheckedForm>,
  );
  await type(control(host, "Size"), "0");
  await press(host, "Start");
  expect(onSubmit).not.toHaveBeenCalled();
  expect(document.activeElement).toBe(control(host, "Size"));
  await type(control(host, "Size"), "2");
  await press(host, "Start");
  expect(onSubmit).toHaveBeenCalledOnce();
});
