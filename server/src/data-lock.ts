/**
 * One server per data folder. The lock is an open transaction on a small SQLite file: the operating system lets go of it when
 * the process ends, however it ends, so that nothing stale is ever left behind.
 */
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { isBusy } from "./db/write-failures.ts";

export interface DataLock {
  release(): void;
}

/** @throws Error that says who holds the folder, when another server does. */
export function lockDataFolder(folder: string, address: string): DataLock {
  const holder = join(folder, "server.txt");
  const lock = new Sqlite(join(folder, "server.lock"), { timeout: 0 });
  try {
    lock.exec("BEGIN EXCLUSIVE");
  } catch (error) {
    lock.close();
    if (!isBusy(error)) throw error;
    throw new Error(
      `Another Plan Tester works in the data folder ${folder}${whoIn(holder)}. Use that one, end it first, or give this one another folder with PLAN_TESTER_DATA.`,
    );
  }
  writeFileSync(holder, `process ${process.pid}, ${address}\n`);
  return {
    release() {
      lock.close();
    },
  };
}

function whoIn(file: string): string {
  try {
    return ` (${readFileSync(file, "utf8").trim()})`;
  } catch {
    return "";
  }
}
