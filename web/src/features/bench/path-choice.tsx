/** How price is taken to move inside a bar. */
import type { RunSettings } from "@plan-tester/contract";
import { cx } from "../../ui/cx.ts";

const PATHS = [
  ["assumed", "Assumed", "The nearer extreme of each bar comes first."],
  ["finer", "Finer bars", "The order of high and low is read from the 1-minute bars inside."],
  ["adverse", "Adverse", "Where a bar holds both stop and target, the stop fills: the doubtful trades at their worst."],
] as const;

export const pathWords = (path: RunSettings["path"]): string => (path === "finer" ? "finer-bar" : path);

export function PathChoice({
  path,
  onChange,
}: {
  readonly path: RunSettings["path"];
  readonly onChange: (path: RunSettings["path"]) => void;
}) {
  return (
    <div className="flex w-72 flex-col gap-1">
      {PATHS.map(([key, name, text]) => (
        <button
          key={key}
          type="button"
          className={cx("rounded px-2 py-1 text-left hover:bg-sunk", key === path && "bg-sunk")}
          onClick={() => onChange(key)}
        >
          <span className="font-semibold">{name}</span>
          <span className="block text-soft">{text}</span>
        </button>
      ))}
    </div>
  );
}
