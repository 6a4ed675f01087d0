/** The practice venue keeps what a venue must promise. */
import { mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { instrumentNamed } from "@plan-tester/demo";
import { expect, test } from "vitest";
import { conform } from "./conformance.ts";
import { Venue } from "./venue.ts";

test.each([
  ["the practice venue conforms", true, 10],
  ["and so it does as a feed of data alone", false, 4],
] as const)(
  "%s",
  async (_what, takesOrders, promises) => {
    const folder = mkdtempSync(join(tmpdir(), "plan-tester-conform-"));
    const port = await new Promise<number>((resolve) => {
      const probe = createServer().listen(0, "127.0.0.1", () => {
        const { port: found } = probe.address() as { port: number };
        probe.close(() => resolve(found));
      });
    });
    const venue = new Venue({ port, stateFile: join(folder, "venue.state"), takesOrders });
    const results = await conform(`http://127.0.0.1:${port}`, instrumentNamed("KELP")!);
    await venue.close();
    rmSync(folder, { recursive: true, force: true });
    expect(results.length).toBeGreaterThan(promises);
    expect(results.filter(({ problem }) => problem !== "")).toEqual([]);
  },
  120_000,
);
