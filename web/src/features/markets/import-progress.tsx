/** How far an import is, how fast it goes and how long it will take. */
import { duration, number } from "../../lib/format.ts";
import { Progress } from "../../ui/progress.tsx";
import type { ImportProgress } from "./use-import.ts";

const MB = 1e6;

export function ImportProgressBar({ progress }: { readonly progress: ImportProgress }) {
  const { file, number: which, files, done, beganMs } = progress;
  const perMs = done / Math.max(1, Date.now() - beganMs);
  return (
    <div className="flex-1 text-[13px] text-soft" role="status">
      {files > 1 ? `File ${which} of ${files}, ${file.name}: ` : ""}
      {number(done / MB, 1)} of {number(file.size / MB, 1)} MB
      {done > 0 ? `, ${number((perMs * 1000) / MB, 1)} MB/s, ${duration((file.size - done) / perMs)} left` : ""}
      <Progress done={done} total={file.size} label="Import" />
    </div>
  );
}
