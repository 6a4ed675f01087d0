/** Further instruments of a run, beside the plan's own. */
import type { Market, RunSettings } from "@plan-tester/contract";

/** What a plan process holds at once; the first is the plan's own. */
const MOST = 6;

export const basketWords = ({ alsoOn }: RunSettings): string =>
  alsoOn.length === 0 ? "alone" : alsoOn.length <= 2 ? `with ${alsoOn.join(" and ")}` : `with ${alsoOn.length} more`;

export function BasketForm({
  settings,
  markets,
  set,
}: {
  readonly settings: RunSettings;
  readonly markets: readonly Market[];
  readonly set: (change: Partial<RunSettings>) => void;
}) {
  const { alsoOn, symbol } = settings;
  const toggle = (other: string): void =>
    set({ alsoOn: alsoOn.includes(other) ? alsoOn.filter((known) => known !== other) : [...alsoOn, other] });
  return (
    <div className="w-72">
      <p className="px-2 pb-1 text-[13px] text-soft">A plan reaches these by market("…") and markets. All share the account.</p>
      <ul aria-label="Further instruments">
        {markets
          .filter(({ instrument }) => instrument.symbol !== symbol)
          .map(({ instrument }) => (
            <li key={instrument.symbol}>
              <label className="flex w-full cursor-pointer items-center gap-2 rounded px-2 py-1 hover:bg-sunk">
                <input
                  type="checkbox"
                  className="size-4 shrink-0 accent-(--accent)"
                  checked={alsoOn.includes(instrument.symbol)}
                  disabled={!alsoOn.includes(instrument.symbol) && alsoOn.length >= MOST}
                  onChange={() => toggle(instrument.symbol)}
                />
                <span className="w-20 shrink-0 font-semibold">{instrument.symbol}</span>
                <span className="truncate text-soft">{instrument.name}</span>
              </label>
            </li>
          ))}
      </ul>
    </div>
  );
}
