/** Which means of limiting a plan process this system has. */
import { spawnSync } from "node:child_process";
import { DATA_BYTES } from "../memory.ts";

/** JavaScript heap of a plan process, megabytes, for each plan that runs in it at once. */
const HEAP_MB = 384;

export interface Limits {
  /** Command and arguments in front of the node executable. */
  readonly prefix: readonly string[];
  readonly heapMb: number;
  /** What to tell the user when a limit is missing, or "". */
  readonly notice: string;
}

let hasPrlimit: boolean | null = null;

/** @param lanes how many plans run in the process at once. */
export function limits(lanes = 1): Limits {
  hasPrlimit ??= spawnSync("prlimit", ["--version"], { stdio: "ignore" }).status === 0;
  return hasPrlimit
    ? { prefix: ["prlimit", `--data=${DATA_BYTES * lanes}`, "--core=0"], heapMb: HEAP_MB, notice: "" }
    : {
        prefix: [],
        heapMb: HEAP_MB,
        notice:
          "prlimit was not found: plans are held to a heap limit and a time limit, but a plan could take memory outside the heap. Install util-linux to close the gap.",
      };
}
