import type { WatchState } from "@plan-tester/contract";

const looks: Readonly<Record<WatchState, string>> = {
  starting: "border-rule text-soft border-dashed",
  armed: "border-accent text-accent",
  "in position": "border-accent bg-accent text-on-accent",
  ended: "border-rule text-soft",
};

export function StateBadge({ state }: { readonly state: WatchState }) {
  return <span className={`inline-block rounded border px-1.5 font-semibold text-[13px] ${looks[state]}`}>{state}</span>;
}
