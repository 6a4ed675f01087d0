import { mkdtempSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { SourceBody } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { folderSource } from "./folder-source.ts";
import { CONFORMING_STATE, notConforming } from "./source-conformance.ts";
import type { SourceKind } from "./source-kind.ts";
import { webSource } from "./web-source.ts";

const body = (kind: SourceBody["kind"], place: string): SourceBody => ({
  ...{ name: "Days", kind, place, symbol: "OWN", everyMinutes: 60, overlap: "keep", allowsPrivate: true },
});

test("a folder conforms", async () => {
  const folder = mkdtempSync(join(tmpdir(), "plan-tester-folder-"));
  const put = (day: string, text: string): void => {
    const file = join(folder, `${day}.csv`);
    writeFileSync(file, text);
    utimesSync(file, 1_700_000_000, 1_700_000_000);
  };
  const wrong = await notConforming(folderSource, {
    ...{ source: body("folder", folder), state: CONFORMING_STATE, put },
    impossible: ["bars", join(folder, "nowhere"), ""],
  });
  rmSync(folder, { recursive: true });
  expect(wrong).toEqual([]);
});

test("an address conforms", async () => {
  const files = new Map<string, string>();
  const web = createServer((request, response) => {
    const text = files.get(request.url!.slice(1));
    response.statusCode = text === undefined ? 404 : 200;
    response.end(text);
  }).listen(0, "127.0.0.1");
  await new Promise((resolve) => web.once("listening", resolve));
  const place = `http://127.0.0.1:${(web.address() as AddressInfo).port}/{date}`;
  const wrong = await notConforming(webSource, {
    ...{ source: body("web", place), state: CONFORMING_STATE, put: (day, text) => void files.set(day, text) },
    impossible: ["file:///etc/passwd", "nowhere", "ftp://there/{date}"],
  });
  web.close();
  expect(wrong).toEqual([]);
});

test("what does not hold is told: keys that change, files mixed up, places taken that can be none, no end after a stop", async () => {
  let turn = 0;
  const files = new Map<string, string>();
  const sloppy: SourceKind = {
    check: async () => undefined,
    items: async () =>
      [...files.keys()].reverse().map((day) => ({
        ...{ name: day, key: `${day} ${turn++}` },
        bring: async (file, signal) => {
          if (signal.aborted) return new Promise<boolean>(() => undefined);
          writeFileSync(file, "always the same");
          return true;
        },
      })),
  };
  const wrong = await notConforming(sloppy, {
    ...{ source: body("folder", "/"), state: CONFORMING_STATE, put: (day, text) => void files.set(day, text), impossible: ["nowhere"] },
  });
  expect(wrong).toEqual([
    expect.stringMatching(/^check takes "nowhere"/),
    "keys change although nothing has changed",
    "items do not come in the order of their days",
    "what is brought is not what is there",
    "an item brings what is another's",
    "bring does not settle after it was stopped",
  ]);
});
