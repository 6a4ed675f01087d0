/** Sources: what is shown of them, and what can be done with them. */
import type { Source } from "@plan-tester/contract";
import { MemoryRouter } from "react-router";
import { expect, test, vi } from "vitest";
import { control, press, show, speaking, type } from "../../testing.tsx";
import { SourcesPage } from "./sources-page.tsx";

const SOURCE: Source = {
  ...{ id: "s", name: "Past days", kind: "web", place: "https://there/{date}.csv", symbol: "OWN", everyMinutes: 1440 },
  ...{ overlap: "keep", allowsPrivate: false, isOn: true, lookedMs: 0, isLooking: false },
  last: { item: "2026-02-27", outcome: "failed", text: "2026-02-27: answered 500", atMs: 0 },
};
const MARKETS = [{ origin: "import", instrument: { symbol: "OWN" } }];

function serving(sources: readonly Source[]): string[] {
  const asked: string[] = [];
  vi.stubGlobal("fetch", async (address: string, { method = "GET", body = null }: { method?: string; body?: string | null } = {}) => {
    if (method !== "GET") asked.push(`${method} ${address} ${body ?? ""}`.trim());
    if (address === "/api/sources" && method === "POST") return Response.json({ id: "new" }, { status: 201 });
    if (address === "/api/sources") return Response.json(sources);
    if (address === "/api/markets") return Response.json(MARKETS);
    if (address.endsWith("/log")) return Response.json(sources[0]!.last ? [sources[0]!.last] : []);
    return new Response(null, { status: 204 });
  });
  speaking();
  return asked;
}

const open = () =>
  show(
    <MemoryRouter>
      <SourcesPage />
    </MemoryRouter>,
  );

test("a source says what it brings, how often, and what went wrong; it is looked at, turned off, deleted", async () => {
  const asked = serving([SOURCE]);
  const host = await open();
  await vi.waitFor(() => expect(host.textContent).toContain("Past days every day"));
  expect(host.textContent).toContain("2026-02-27: answered 500");
  await press(host, "Log");
  await vi.waitFor(() => expect(host.querySelector("[aria-label=Log]")?.textContent).toContain("answered 500"));
  for (const act of ["Look now", "Turn off", "Delete"]) await press(host, act);
  await vi.waitFor(() =>
    expect(asked).toEqual(["POST /api/sources/s/look", 'PATCH /api/sources/s {"isOn":false}', "DELETE /api/sources/s"]),
  );
});

test("one is added for an instrument of one's own", async () => {
  const asked = serving([]);
  const host = await open();
  await vi.waitFor(() => expect(host.textContent).toContain("No sources yet"));
  await press(host, "Add a source");
  const page = document.body;
  await vi.waitFor(() => expect(page.textContent).toContain("Brings bars of"));
  await type(control(page, "Name"), "Mine");
  await type(control(page, "From"), "web");
  await type(control(page, "Address; {date} is a day, {symbol} the instrument"), "https://there/{date}");
  await press(page.querySelector<HTMLElement>("[role=dialog]")!, "Add");
  await vi.waitFor(() => expect(asked).toHaveLength(1));
  expect(JSON.parse(asked[0]!.replace("POST /api/sources ", ""))).toEqual({
    ...{ name: "Mine", kind: "web", place: "https://there/{date}", symbol: "OWN", everyMinutes: 60, overlap: "keep", allowsPrivate: false },
  });
});
