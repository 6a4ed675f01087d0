import { act, useState } from "react";
import { expect, test } from "vitest";
import { keyOn, press, show } from "../testing.tsx";
import { Modal } from "./modal.tsx";

function Page() {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <input aria-label="Elsewhere" />
      <button type="button" onClick={() => setOpen(true)}>
        Open
      </button>
      {isOpen ? (
        <Modal title="A question" onClose={() => setOpen(false)}>
          <button type="button">Answer</button>
        </Modal>
      ) : null}
    </>
  );
}

test("focus goes into a dialog, and back to where it was", async () => {
  const host = await show(<Page />);
  const input = host.querySelector("input")!;
  await act(async () => input.focus());
  await press(host, "Open");
  const dialog = document.querySelector<HTMLElement>("[role=dialog]")!;
  expect(dialog.contains(document.activeElement)).toBe(true);
  await keyOn(dialog, "Escape");
  await act(() => new Promise((resolve) => setTimeout(resolve, 0)));
  expect(document.querySelector("[role=dialog]")).toBeNull();
  expect(document.activeElement).toBe(input);
});
