/** What every kind of source has to hold to, whatever it brings from where. */
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { SourceBody } from "@plan-tester/contract";
import type { SourceKind, SourceState } from "./source-kind.ts";

/** A place of the kind, and what can be done to what is there. */
export interface ConformingPlace {
  readonly source: SourceBody;
  readonly state: SourceState;
  /** Puts a file there under a day, or another one in its place. */
  readonly put: (day: string, text: string) => Promise<void> | void;
  /** Places that can be none. */
  readonly impossible: readonly string[];
}

const SETTLE_MS = 5000;

/** A day between the last bar and today, and one behind it. */
export const [FIRST_DAY, SECOND_DAY] = ["2026-03-03", "2026-03-04"] as const;
export const CONFORMING_STATE: SourceState = { lastDate: "2026-03-02", nowMs: Date.UTC(2026, 2, 5, 12) };

/** @returns what does not hold, in words; empty where all does */
export async function notConforming(kind: SourceKind, { source, state, put, impossible }: ConformingPlace): Promise<string[]> {
  const wrong: string[] = [];
  const must = (holds: boolean, words: string): void => void (holds || wrong.push(words));
  const folder = mkdtempSync(join(tmpdir(), "plan-tester-conforms-"));
  const file = join(folder, "brought");
  const going = new AbortController();
  const broughtBy = async (day: string): Promise<string | null> => {
    const item = (await kind.items(source, state)).find(({ name }) => name.includes(day));
    if (!item || !(await item.bring(file, going.signal))) return null;
    return readFileSync(file, "utf8");
  };
  try {
    await kind.check(source);
    for (const place of impossible) {
      const code = await kind.check({ ...source, place }).then(
        () => "none",
        (error: { code?: string }) => error.code,
      );
      must(code === "bad-input", `check takes "${place}", which can be no place, or fails with another code than bad-input`);
    }
    must((await broughtBy(SECOND_DAY)) === null, "a file that is not there is brought");
    await put(FIRST_DAY, "first");
    await put(SECOND_DAY, "second");
    const [items, again] = [await kind.items(source, state), await kind.items(source, state)];
    const keys = items.map(({ key }) => key);
    must(new Set(keys).size === keys.length, "two items have the same key");
    must(keys.join() === again.map(({ key }) => key).join(), "keys change although nothing has changed");
    const names = items.map(({ name }) => name);
    const [first, second] = [FIRST_DAY, SECOND_DAY].map((day) => names.findIndex((name) => name.includes(day)));
    must(first! >= 0 && second! > first!, "items do not come in the order of their days");
    must((await broughtBy(FIRST_DAY)) === "first", "what is brought is not what is there");
    must((await broughtBy(SECOND_DAY)) === "second", "an item brings what is another's");
    going.abort();
    const [item] = await kind.items(source, state);
    const settles = item!.bring(join(folder, "stopped"), going.signal).then(
      () => true,
      () => true,
    );
    const waits = new Promise<false>((resolve) => setTimeout(resolve, SETTLE_MS, false).unref());
    must(await Promise.race([settles, waits]), "bring does not settle after it was stopped");
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  return wrong;
}
