/** Output that arrives whole, however slowly it is read, and ends quietly where nobody reads on. */
import { writeFileSync } from "node:fs";

/** A reader that has closed the pipe (`| head`) wants no more: that is no failure. */
export function endQuietlyWhenUnread(): void {
  for (const stream of [process.stdout, process.stderr])
    stream.on("error", (error: NodeJS.ErrnoException) => process.exit(error.code === "EPIPE" ? 0 : 2));
}

/** Writes to a file, or to standard output. */
export function print(text: string | Uint8Array, out?: string): void {
  if (out) writeFileSync(out, text);
  else process.stdout.write(text);
}

const flushed = (stream: NodeJS.WriteStream): Promise<void> => new Promise((resolve) => stream.write("", () => resolve()));

/** Ends the process when everything that was written has been taken. */
export async function exitWith(code: number): Promise<never> {
  await flushed(process.stdout);
  await flushed(process.stderr);
  process.exit(code);
}
