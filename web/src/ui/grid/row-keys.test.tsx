import { expect, test } from "vitest";
import { keyOn, show } from "../../testing.tsx";
import { rowKeys } from "./row-keys.ts";

async function tableAt(at: number, rows = 40) {
  const said: (number | "open")[] = [];
  const host = await show(
    <div
      role="grid"
      tabIndex={0}
      onKeyDown={rowKeys({ rows, at: () => at, onMove: (to) => said.push(to), onOpen: () => said.push("open") })}
    >
      <button type="button">Net profit</button>
    </div>,
  );
  return { said, grid: host.querySelector<HTMLElement>("[role=grid]")!, head: host.querySelector("button")! };
}

test.each([
  ["ArrowDown", 5, [6]],
  ["ArrowUp", 5, [4]],
  ["ArrowUp", 0, [0]],
  ["ArrowDown", 39, [39]],
  ["ArrowDown", -1, [0]],
  ["PageDown", 5, [20]],
  ["PageUp", 5, [0]],
  ["Home", 30, [0]],
  ["End", 3, [39]],
  ["Enter", 7, ["open"]],
  ["Enter", -1, []],
  ["x", 7, []],
])("%s at row %i", async (key, at, expected) => {
  const { said, grid } = await tableAt(at);
  await keyOn(grid, key);
  expect(said).toEqual(expected);
});

test("the head of a column keeps its own keys, and an empty table has none", async () => {
  const { said, head } = await tableAt(3);
  await keyOn(head, "Enter");
  expect(said).toEqual([]);
  const empty = await tableAt(-1, 0);
  await keyOn(empty.grid, "ArrowDown");
  expect(empty.said).toEqual([]);
});
