/** Which means of limiting a plan process this system has. */
import { spawnSync } from "node:child_process";

/** Address space for data of a plan process, bytes; and its JavaScript heap, megabytes. */
const DATA_BYTES = 1_500_000_000;
const HEAP_MB = 384;

export interface Limits {
  /** Command and arguments in front of the node executable. */
  readonly prefix: readonly string[];
  readonly heapMb: number;
  /** What to tell the user when a limit is missing, or "". */
  readonly notice: string;
}

let known: Limits | null = null;

export function limits(): Limits {
  if (known) return known;
  const has = spawnSync("prlimit", ["--version"], { stdio: "ignore" }).status === 0;
  known = has
    ? { prefix: ["prlimit", `--data=${DATA_BYTES}`, "--core=0"], heapMb: HEAP_MB, notice: "" }
    : {
        prefix: [],
        heapMb: HEAP_MB,
        notice:
          "prlimit was not found: plans are held to a heap limit and a time limit, but a plan could take memory outside the heap. Install util-linux to close the gap.",
      };
  return known;
}
