/** How a watch stands: its positions with stop, target and profit, its money, how late it hears, and the plan's own figures. */
import type { WatchDetail, WatchPosition } from "@plan-tester/contract";
import { useDecimals } from "../../data/markets.ts";
import { DASH, duration, money, number, priceText, timeAt } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { positionText } from "./position-text.ts";

export interface WatchFactsProps {
  readonly watch: WatchDetail;
  readonly zone: string;
}

export function WatchFacts({ watch, zone }: WatchFactsProps) {
  const decimalsOf = useDecimals();
  const { positions, lagMs, slowLagMs, ageMs, figures, inputs } = watch;
  return (
    <section aria-label="How it stands">
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1 [&_dd]:text-right [&_dd]:font-semibold [&_dt]:text-soft">
        {positions.map((position) => (
          <Position key={position.symbol} position={position} decimals={decimalsOf(position.symbol)} />
        ))}
        <dt>Last price</dt>
        <dd>
          {priceText(watch.lastPrice, decimalsOf(watch.settings.symbol))}
          {watch.lastTimeMs ? (
            <span className="block whitespace-nowrap font-normal text-soft">{timeAt(watch.lastTimeMs, zone)}</span>
          ) : null}
        </dd>
        <dt>Equity</dt>
        <dd>
          {money(watch.equity)} <span className="font-normal text-soft">{watch.currency}</span>
        </dd>
        <dt>Closed trades, net</dt>
        <dd>
          {watch.trades} · <Amount value={watch.net} />
        </dd>
        <dt title="Real time from the venue's word to the plan's answer.">Lag</dt>
        <dd>
          {lagMs === null ? DASH : `${number(lagMs)} ms`}
          {slowLagMs === null ? null : <span className="block font-normal text-soft">95 % within {number(slowLagMs)} ms</span>}
        </dd>
        <dt title="Of the venue's clock. A bar that is too old sends no entry.">Age of the last bar</dt>
        <dd>{ageMs === null ? DASH : ageMs < 1000 ? "none" : duration(ageMs)}</dd>
        {figures.map(({ label, value, unit }) => (
          <Fact key={label} label={label} value={`${number(value, 2)} ${unit}`} />
        ))}
        {Object.entries(inputs).map(([name, value]) => (
          <Fact key={name} label={`Input ${name}`} value={String(value)} />
        ))}
      </dl>
    </section>
  );
}

const Fact = ({ label, value }: { readonly label: string; readonly value: string }) => (
  <>
    <dt>{label}</dt>
    <dd>{value}</dd>
  </>
);

function Position({ position, decimals }: { readonly position: WatchPosition; readonly decimals: number }) {
  const { stop, target, profit, r } = position;
  return (
    <>
      <dt>Position</dt>
      <dd>{positionText(position, decimals)}</dd>
      <dt>Stop loss</dt>
      <dd>{stop === null ? <span className="text-warn">none</span> : priceText(stop, decimals)}</dd>
      <dt>Target</dt>
      <dd>{priceText(target, decimals)}</dd>
      <dt>Open profit</dt>
      <dd>
        <Amount value={profit} /> {r === null ? "" : <span className="font-normal text-soft">{number(r, 2)} R</span>}
      </dd>
    </>
  );
}
