/** What it means when the database can't write, in words, and whether trying again may help. */
import { statfsSync } from "node:fs";
import { dirname } from "node:path";
import { PlanTesterError } from "@plan-tester/core";
import { bytesText } from "../text.ts";

/** SQLite's own code of an error, as the driver or TypeORM hands it on; "" for any other error. */
export function sqliteCodeOf(error: unknown): string {
  const { code, driverError } = (error ?? {}) as { code?: unknown; driverError?: { code?: unknown } };
  const found = driverError?.code ?? code;
  return typeof found === "string" && found.startsWith("SQLITE_") ? found : "";
}

/** Another connection holds the file for a moment. */
export const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test(sqliteCodeOf(error));

/** Free bytes of the disk that a file is on; null where it can't be asked. */
export function freeBytesAt(file: string): number | null {
  try {
    const { bavail, bsize } = statfsSync(dirname(file));
    return bavail * bsize;
  } catch {
    return null;
  }
}

/** An error of storage in words; any other as it is. A transaction that failed has changed nothing. */
export function inWords(error: unknown, file: string): unknown {
  const code = sqliteCodeOf(error);
  const say = (text: string): PlanTesterError => new PlanTesterError("storage", `${text} Nothing was changed.`, { code });
  if (code === "SQLITE_FULL") {
    const free = freeBytesAt(file);
    return say(`The disk of the data folder is full${free === null ? "" : `: ${bytesText(free)} free`}. Make room on it and try again.`);
  }
  if (isBusy(error)) return say("Another program holds the database of the data folder. Close it and try again.");
  if (/^SQLITE_(READONLY|CANTOPEN|PERM)/.test(code)) return say("The data folder can't be written to. Check its permissions.");
  if (code.startsWith("SQLITE_IOERR")) return say(`The disk of the data folder reports an error (${code}). Check the disk and try again.`);
  if (code.startsWith("SQLITE_CORRUPT") || code === "SQLITE_NOTADB")
    return say("The database of the data folder is damaged. Stop the server and put a copy in its place.");
  return error;
}
