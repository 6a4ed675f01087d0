import { Progress as RadixProgress } from "radix-ui";

export function Progress({ done, total, label }: { readonly done: number; readonly total: number; readonly label: string }) {
  const share = total > 0 ? Math.min(1, done / total) : 0;
  return (
    <RadixProgress.Root value={share * 100} aria-label={label} className="h-1.5 w-full overflow-hidden rounded-full bg-sunk">
      <RadixProgress.Indicator className="h-full bg-accent" style={{ width: `${share * 100}%` }} />
    </RadixProgress.Root>
  );
}
