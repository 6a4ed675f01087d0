import { expect, test, vi } from "vitest";
import { keyOn, show, work } from "../testing.tsx";
import { type Command, useAllCommands, useCommandKeys, useCommands } from "./commands.ts";

const acts = vi.fn<(what: string) => void>();
const command = (id: string, keys: string, more: Partial<Command> = {}): Command => ({ id, label: id, keys, act: () => acts(id), ...more });

function Listener() {
  useCommandKeys();
  return null;
}
function Offer({ commands }: { readonly commands: readonly Command[] }) {
  useCommands(commands);
  return null;
}
const page = (commands: readonly Command[], more: readonly Command[] = []) =>
  show(
    <>
      <Listener />
      <Offer commands={commands} />
      <Offer commands={more} />
    </>,
  );
const key = async (name: string, more: KeyboardEventInit = {}): Promise<string[]> => {
  acts.mockClear();
  await keyOn(document.body, name, more);
  return acts.mock.calls.map(([what]) => what);
};

test.each<[string, string, KeyboardEventInit, boolean]>([
  ["Ctrl+Enter", "Enter", { ctrlKey: true }, true],
  ["Ctrl+Enter", "Enter", { metaKey: true }, true],
  ["Ctrl+Enter", "Enter", {}, false],
  ["Ctrl+Enter", "Enter", { ctrlKey: true, shiftKey: true }, false],
  ["Ctrl+Shift+Enter", "Enter", { ctrlKey: true, shiftKey: true }, true],
  ["Alt+v", "V", { altKey: true }, true],
  ["Alt+v", "v", {}, false],
  ["Escape", "Escape", {}, true],
])("%s is met by %s with %j: %s", async (keys, name, more, isMet) => {
  await page([command("it", keys)]);
  expect(await key(name, more)).toEqual(isMet ? ["it"] : []);
});

test("of two with the same keys the one that was offered last acts, until its page is gone", async () => {
  await page([command("below", "Ctrl+s")], [command("above", "Ctrl+s")]);
  expect(await key("s", { ctrlKey: true })).toEqual(["above"]);
  await page([command("below", "Ctrl+s")]);
  expect(await key("s", { ctrlKey: true })).toEqual(["below"]);
  await show(<Listener />);
  expect(await key("s", { ctrlKey: true })).toEqual([]);
});

test("a plain key belongs to an open dialog first, one with Ctrl does not", async () => {
  await page([command("stop", "Escape"), command("run", "Ctrl+Enter")]);
  const dialog = document.createElement("div");
  dialog.setAttribute("role", "dialog");
  document.body.append(dialog);
  expect(await key("Escape")).toEqual([]);
  expect(await key("Enter", { ctrlKey: true })).toEqual(["run"]);
  dialog.remove();
  expect(await key("Escape")).toEqual(["stop"]);
});

test("what somebody else has taken is left alone", async () => {
  const host = await page([command("run", "Ctrl+Enter")]);
  const field = document.createElement("input");
  field.addEventListener("keydown", (event) => event.preventDefault());
  host.append(field);
  acts.mockClear();
  await keyOn(field, "Enter", { ctrlKey: true });
  expect(acts).not.toHaveBeenCalled();
});

test("the palette knows those that are offered now, by their names of now, and each does what it does now", async () => {
  let done = "";
  const { now, give } = await work(
    ({ label, what }: { label: string; what: string }) => {
      useCommands([{ id: "auto", label, act: () => void (done = what) }]);
      return useAllCommands();
    },
    { label: "Run on pauses", what: "first" },
  );
  expect(now().map(({ label }) => label)).toEqual(["Run on pauses"]);
  await give({ label: "Run on pauses", what: "second" });
  now()[0]!.act();
  expect(done).toBe("second");
  await give({ label: "Stop running on pauses", what: "third" });
  expect(now().map(({ label }) => label)).toEqual(["Stop running on pauses"]);
});
