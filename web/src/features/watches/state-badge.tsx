import type { WatchState } from "@plan-tester/contract";

const looks: Readonly<Record<WatchState, string>> = {
  starting: "border-rule text-soft border-dashed",
  armed: "border-accent text-accent",
  "in position": "border-accent bg-accent text-on-accent",
  "waiting for you": "border-warn bg-warn-wash text-warn",
  paused: "border-warn text-warn",
  ended: "border-rule text-soft",
};

export function StateBadge({ state }: { readonly state: WatchState }) {
  return <span className={`inline-block whitespace-nowrap rounded border px-1.5 font-semibold text-[13px] ${looks[state]}`}>{state}</span>;
}
