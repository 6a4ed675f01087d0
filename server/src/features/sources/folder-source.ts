/** A folder that is looked at: each of its files of bars, by name, again once it has changed. */
import { copyFile, readdir, stat } from "node:fs/promises";
import { isAbsolute, join } from "node:path";
import { PlanTesterError } from "@plan-tester/core";
import type { SourceKind } from "./source-kind.ts";

const FILES = /\.(csv|txt|tsv|json|jsonl|ndjson|parquet|gz|zip)$/i;
/** A file that was changed less than this ago may still be written. */
const SETTLED_MS = 2000;

export const folderSource: SourceKind = {
  async check({ place }) {
    if (!isAbsolute(place))
      throw new PlanTesterError(
        "bad-input",
        `"${place}" is not the whole path of a folder. Write it from the root, such as /home/me/bars.`,
        {},
      );
    const found = await stat(place).catch(() => null);
    if (!found?.isDirectory()) throw new PlanTesterError("bad-input", `There is no folder "${place}".`, {});
  },
  async items({ place }, { nowMs }) {
    const names = (await readdir(place)).filter((name) => FILES.test(name)).sort((a, b) => a.localeCompare(b, "en", { numeric: true }));
    const files = await Promise.all(names.map(async (name) => ({ name, facts: await stat(join(place, name)).catch(() => null) })));
    return files.flatMap(({ name, facts }) => {
      if (!facts?.isFile() || nowMs - facts.mtimeMs < SETTLED_MS) return [];
      const bring = async (file: string): Promise<boolean> => {
        await copyFile(join(place, name), file);
        return true;
      };
      return [{ name, key: `${name}:${facts.size}:${Math.floor(facts.mtimeMs)}`, bring }];
    });
  },
};
