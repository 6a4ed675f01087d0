/** Hooks that watch something: a text that settles, the window, an element. */
import { act } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { pass, work } from "../testing.tsx";
import { useNarrow } from "./use-narrow.ts";
import { useSettled } from "./use-settled.ts";
import { useWidth } from "./use-width.ts";

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("a text that settles", () => {
  beforeEach(() => void vi.useFakeTimers());

  test("is the one before until nobody has changed it for a moment", async () => {
    const { now, give } = await work((text: string) => useSettled(text, 300), "a" as string);
    await give("ab");
    await pass(250);
    await give("abc");
    await pass(250);
    expect(now()).toBe("a");
    await pass(100);
    expect(now()).toBe("abc");
  });

  test("that is written and taken back has not changed", async () => {
    const seen = new Set<string>();
    const { give } = await work((text: string) => seen.add(useSettled(text, 300)), "a" as string);
    await give("ab");
    await pass(100);
    await give("a");
    await pass(1000);
    expect([...seen]).toEqual(["a"]);
  });
});

test("a window that is made narrow, or zoomed, is known at once, and left alone when the page goes", async () => {
  const heard = new Set<() => void>();
  const query = {
    matches: false,
    addEventListener: (_name: string, listener: () => void) => void heard.add(listener),
    removeEventListener: (_name: string, listener: () => void) => void heard.delete(listener),
  };
  vi.stubGlobal("matchMedia", () => query);
  const { now } = await work(() => useNarrow(), null);
  expect(now()).toBe(false);
  query.matches = true;
  await act(async () => {
    for (const listener of heard) listener();
  });
  expect(now()).toBe(true);
  await work(() => null, null);
  expect(heard.size).toBe(0);
});

test("an element's width is followed, and no longer watched when it is gone", async () => {
  let tell: (width: number) => void = () => undefined;
  let watched = 0;
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(hear: (entries: readonly { contentRect: { width: number } }[]) => void) {
        tell = (width) => hear([{ contentRect: { width } }]);
      }
      observe() {
        watched++;
      }
      disconnect() {
        watched--;
      }
    },
  );
  const box = { current: document.createElement("div") };
  const { now } = await work(() => useWidth(box, 640), null);
  expect([now(), watched]).toEqual([640, 1]);
  await act(async () => tell(812));
  expect(now()).toBe(812);
  await work(() => null, null);
  expect(watched).toBe(0);
});
