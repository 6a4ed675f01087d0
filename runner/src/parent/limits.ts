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

const has = (command: string): boolean => spawnSync(command, ["--version"], { stdio: "ignore" }).status === 0;
let found: { readonly prlimit: boolean; readonly setpriv: boolean } | null = null;

/** @param threads how many plans run in the process at once. */
export function limits(threads = 1): Limits {
  found ??= { prlimit: has("prlimit"), setpriv: has("setpriv") };
  const missing = [
    ...(found.prlimit ? [] : ["prlimit was not found: a plan could take memory outside the heap."]),
    ...(found.setpriv ? [] : ["setpriv was not found: a plan that spins could outlive a server that is killed."]),
  ];
  return {
    // The system itself ends a plan process with its parent, however that ends and whatever the plan is doing.
    prefix: [
      ...(found.setpriv ? ["setpriv", "--pdeathsig", "KILL", "--no-new-privs"] : []),
      ...(found.prlimit ? ["prlimit", `--data=${DATA_BYTES * threads}`, "--core=0"] : []),
    ],
    heapMb: HEAP_MB,
    notice: missing.length > 0 ? `${missing.join(" ")} Install util-linux to close the gap.` : "",
  };
}
