import { act } from "react";
import { expect, test, vi } from "vitest";
import { control, keyOn, show, type } from "../../testing.tsx";
import { PriceText } from "./mark-fields.tsx";

async function field(value: number | null) {
  const onValue = vi.fn<(price: number | null) => void>();
  const host = await show(<PriceText label="Stop" value={value} decimals={2} onValue={onValue} />);
  const input = control(host, "Stop") as HTMLInputElement;
  await act(async () => input.focus());
  return { input, onValue };
}

test.each<[string, number | null, string, number | null]>([
  ["a price is taken", null, "399.5", 399.5],
  ["nothing is none", 399.5, "", null],
])("%s, once, by Enter", async (_what, before, text, taken) => {
  const { input, onValue } = await field(before);
  await type(input, text);
  await keyOn(input, "Enter");
  await act(async () => input.blur());
  expect(onValue).toHaveBeenCalledExactlyOnceWith(taken);
});

test.each(["abc", "-1", "0", "1e999"])("%s is no price: what was there comes back", async (text) => {
  const { input, onValue } = await field(399.5);
  await type(input, text);
  await keyOn(input, "Enter");
  expect(onValue).not.toHaveBeenCalled();
  expect(input.value).toBe("399.50");
});
