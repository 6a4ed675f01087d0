/** The page of alerts: rules as sentences, channels, and changes that are saved one after the other. */
import type { AlertSetup } from "@plan-tester/contract";
import { act } from "react";
import { MemoryRouter } from "react-router";
import { expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { click, control, press, refusal, serving, show, speaking, type, withAnswers } from "../../testing.tsx";
import { AlertToasts } from "./alert-toasts.tsx";
import { AlertsPage } from "./alerts-page.tsx";

const SETUP: AlertSetup = {
  revision: 3,
  channels: [{ id: "screen", name: "On screen", isOn: true, kind: "screen", email: null, call: null }],
  rules: [{ id: "first", isOn: true, watchId: null, events: ["refused", "error"], leastLevel: "warning", channels: ["screen"] }],
  quiet: { isOn: false, from: "22:00", to: "07:00", zone: "UTC", lets: true },
  ...{ perMinute: 20, allowsPrivate: false },
};

/** A server that keeps what it is sent. */
function server() {
  let setup = SETUP;
  return serving((what, body) => {
    if (what === "PUT /alerts") {
      if (body.revision !== setup.revision) return refusal(409, "conflict", "Changed in another window.");
      setup = { ...(body as unknown as AlertSetup), revision: setup.revision + 1 };
    }
    if (what.endsWith("/alerts")) return { setup, withSecret: [] };
    return what.startsWith("GET") ? [] : undefined;
  });
}

const page = (place = "/") =>
  show(
    withAnswers(
      [
        [queries.alerts().queryKey, { setup: SETUP, withSecret: [] }],
        [queries.watches().queryKey, [{ id: "w1", name: "Ebb fade", state: "armed" }]],
      ],
      <MemoryRouter initialEntries={[place]}>
        <AlertsPage />
      </MemoryRouter>,
    ),
  );
const saved = (asked: ReturnType<typeof serving>) =>
  asked.filter(({ what }) => what === "PUT /alerts").map(({ body }) => body as unknown as AlertSetup);

test("a rule reads as a sentence, and each of its words is changed", async () => {
  const asked = server();
  const host = await page();
  expect(host.querySelector("[aria-label=Rules]")!.textContent).toMatch(
    /Of.*every watch.*tell.*refusals, errors.*from level.*on, through.*On screen/,
  );
  const watch = control(host, "Watch") as HTMLSelectElement;
  await act(async () => {
    watch.value = "w1";
    watch.dispatchEvent(new Event("change", { bubbles: true }));
  });
  await vi.waitFor(() => expect(saved(asked).at(-1)!.rules).toMatchObject([{ watchId: "w1", events: ["refused", "error"] }]));
});

test("changes in quick succession are saved in order, each against the revision before it", async () => {
  const asked = server();
  const host = await page();
  await click(control(host, "The rule is on"));
  await click(control(host, "Web calls may go to this machine"));
  await press(host, "Add a rule");
  await vi.waitFor(() => expect(saved(asked)).toHaveLength(3));
  expect(saved(asked).map(({ revision }) => revision)).toEqual([3, 4, 5]);
  expect(saved(asked).at(-1)).toMatchObject({
    allowsPrivate: true,
    rules: [{ isOn: false }, { isOn: true, events: ["filled", "closed"] }],
  });
});

test("a change shows at once, and one that is refused shows what is there again", async () => {
  let answer = (): void => {};
  const answered = new Promise<void>((resolve) => {
    answer = resolve;
  });
  serving(async (what) => {
    if (what === "PUT /alerts") return answered.then(() => refusal(409, "conflict", "Changed in another window."));
    return what.endsWith("/alerts") ? { setup: SETUP, withSecret: [] } : [];
  });
  const host = await page();
  const rule = control(host, "The rule is on") as HTMLInputElement;
  act(() => rule.click());
  expect(rule.checked).toBe(false);
  answer();
  await vi.waitFor(() => expect(rule.checked).toBe(true));
});

test("a channel is added with its text, a preview shows what it would send, and its secret goes apart", async () => {
  const asked = server();
  const host = await page();
  await press(host, "Add a web call");
  await type(control(document.body, "Address"), "https://desk.example.test/hook");
  await type(control(document.body, "Secret of the signature"), "tide");
  await press(document.body, "JSON for a chat");
  await press(document.body, "Save the channel");
  await vi.waitFor(() => expect(asked.some(({ what }) => /^PUT \/alerts\/channels\/\w+\/secret$/.test(what))).toBe(true));
  const { channels } = saved(asked).at(-1)!;
  expect(channels[1]).toMatchObject({
    kind: "web call",
    call: { url: "https://desk.example.test/hook", body: '{ "text": "{{watch}}: {{text}}" }' },
  });
  expect(JSON.stringify(saved(asked))).not.toContain("tide");
});

test("of one watch the last alert of a level is shown, the urgent until it is read", async () => {
  const speak = speaking();
  await show(<AlertToasts />);
  const { toast } = await import("sonner");
  const error = vi.spyOn(toast, "error");
  const alert = { type: "alert", watchId: "w1", watchName: "Ebb fade", level: "alert" };
  await speak({ ...alert, text: "the plan failed" });
  await speak({ ...alert, text: "and failed again" });
  expect(error.mock.calls.map(([text, options]) => [text, options!.id, options!.duration])).toEqual([
    ["Ebb fade: the plan failed", "alert w1 alert", Number.POSITIVE_INFINITY],
    ["Ebb fade: and failed again", "alert w1 alert", Number.POSITIVE_INFINITY],
  ]);
});

test("outcomes are told with their reasons, and can be those of one watch", async () => {
  const delivery = {
    id: 1,
    atMs: 0,
    watchId: "w1",
    watchName: "Ebb fade",
    event: "filled",
    text: "bought 2",
    channelName: "Mail",
    tries: 3,
  };
  const asked = serving((what) =>
    what.startsWith("GET /alerts/deliveries") ? { total: 1, deliveries: [{ ...delivery, state: "failed", outcome: "no such host" }] } : [],
  );
  const host = await page("/?tab=outcomes");
  await vi.waitFor(() => expect(host.querySelector("tbody tr")!.textContent).toMatch(/Ebb fade.*bought 2.*failed3no such host/));
  const watch = control(host, "Only one watch") as unknown as HTMLSelectElement;
  await act(async () => {
    watch.value = "w1";
    watch.dispatchEvent(new Event("change", { bubbles: true }));
  });
  await vi.waitFor(() => expect(asked.at(-1)!.what).toContain("watchId=w1"));
});
