/** One connection for all that listen on a page, as long as somebody does. */
import type { ServerEvent } from "@plan-tester/contract";
import { expect, test, vi } from "vitest";
import { show, speaking } from "../testing.tsx";
import { useServerEvents } from "./events.ts";

function Listening({ onEvent }: { readonly onEvent: (event: ServerEvent) => void }) {
  useServerEvents(onEvent);
  return null;
}

test("every listener hears each event once, by what it was shown with last", async () => {
  const tell = speaking();
  const [first, second, later] = [vi.fn(), vi.fn(), vi.fn()];
  await show(
    <>
      <Listening onEvent={first} />
      <Listening onEvent={second} />
    </>,
  );
  await tell({ type: "plans" });
  await show(<Listening onEvent={later} />);
  await tell({ type: "runs" });
  expect([first, second, later].map((heard) => heard.mock.calls.map(([event]) => event.type))).toEqual([["plans"], ["plans"], ["runs"]]);
});

test("the connection is opened for the first and closed behind the last", async () => {
  const opened = vi.fn();
  const closed = vi.fn();
  vi.stubGlobal(
    "EventSource",
    class {
      constructor(address: string) {
        opened(address);
      }
      close = closed;
    },
  );
  await show(
    <>
      <Listening onEvent={() => undefined} />
      <Listening onEvent={() => undefined} />
    </>,
  );
  expect(opened.mock.calls).toEqual([["/api/events"]]);
  await show(null);
  expect(closed).toHaveBeenCalledOnce();
  await show(<Listening onEvent={() => undefined} />);
  expect(opened).toHaveBeenCalledTimes(2);
});
