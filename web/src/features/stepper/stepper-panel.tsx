/** The stepper: where one stands, how the account stood, what the plan knew, what happened, and why no trade was made. */
import type { RunEvidence } from "@plan-tester/contract";
import type { TraceState } from "@plan-tester/core";
import { Pause, Play, SkipBack, SkipForward, StepBack, StepForward } from "lucide-react";
import { type ReactNode, useEffect, useMemo } from "react";
import { number, priceText, signed, timeAt, units } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Select } from "../../ui/field.tsx";
import { Failure } from "../../ui/states.tsx";
import { conditionJump, JUMPS } from "./jumps.ts";
import { namedValues, type SteppedStrip, wordsOf } from "./seen.ts";
import type { Stepper } from "./use-stepper.ts";
import { whyNoTrade } from "./why.ts";

export interface StepperPanelProps {
  readonly run: RunEvidence;
  readonly stepper: Stepper;
  readonly strips: readonly SteppedStrip[];
  readonly bars: { readonly time: Float64Array; readonly high: Float64Array; readonly low: Float64Array; readonly close: Float64Array };
  readonly zone: string;
  readonly decimals: number;
  readonly onLine: (line: number) => void;
  /** Shows a line beside it without taking the keyboard away. */
  readonly onPeek: (line: number) => void;
}

const SPEEDS = [1, 5, 20, 100, 500] as const;

export function StepperPanel(props: StepperPanelProps) {
  const { run, stepper, strips, bars, zone, decimals, onLine, onPeek } = props;
  const { bar, events, eventAt, steps } = stepper;
  const event = eventAt >= 0 ? events[eventAt] : undefined;
  const line = event?.line ?? 0;
  useEffect(() => {
    if (line > 0) onPeek(line);
  }, [line, onPeek]);
  const why = useMemo(
    () =>
      bar === null || !steps
        ? []
        : whyNoTrade({ barIndex: bar, firstBar: run.firstBar, high: bars.high[bar]!, low: bars.low[bar]!, steps, strips }),
    [bar, steps, run.firstBar, bars, strips],
  );
  const seen = useMemo(() => namedValues(stepper, strips), [stepper, strips]);
  return (
    <aside aria-label="Stepper" className="flex w-72 shrink-0 flex-col overflow-auto border-rule border-l bg-sheet text-[13px]">
      <Controls stepper={stepper} strips={strips} />
      {stepper.error ? <Failure error={stepper.error} /> : null}
      {bar === null ? (
        <p className="p-3 text-soft">
          Step forward, or click a bar on the chart. Alt+→ and Alt+← go from bar to bar, with Shift from event to event.
        </p>
      ) : (
        <>
          <p className="border-rule border-b px-3 py-1" role="status" data-testid="step-place">
            <strong>{timeAt(bars.time[bar], zone)}</strong> · bar {number(bar + 1)}
            {event ? `, event ${eventAt + 1} of ${events.length}` : ", after its close"}
            {stepper.isLoading ? " · looking …" : ""}
          </p>
          {stepper.state ? <Account state={stepper.state} close={bars.close[bar]!} decimals={decimals} /> : null}
          <Part title="What happened">
            {events.length === 0 ? <li className="text-soft">Nothing the plan or its orders did.</li> : null}
            {events.map((one, k) => (
              <li key={one.id} className={cx("flex gap-1.5", k === eventAt && "bg-accent-wash")}>
                <LineButton line={one.line} onLine={onLine} />
                <span className="min-w-0 [overflow-wrap:anywhere]">{wordsOf(one, steps)}</span>
              </li>
            ))}
          </Part>
          <Part title="Named values">
            {seen.map(({ name, line: at, text }) => (
              <li key={`${at} ${name}`} className="flex gap-1.5">
                <LineButton line={at} onLine={onLine} />
                <span className="min-w-0 flex-1 truncate" title={name}>
                  {name}
                </span>
                <span className="font-semibold">{text}</span>
              </li>
            ))}
          </Part>
          <Part title="Why no trade here?">
            {why.map(({ text, line: at }) => (
              <li key={`${at} ${text}`} className="flex gap-1.5">
                <LineButton line={at} onLine={onLine} />
                <span className="min-w-0 [overflow-wrap:anywhere]">{text}</span>
              </li>
            ))}
          </Part>
        </>
      )}
    </aside>
  );
}

function Controls({ stepper, strips }: Pick<StepperPanelProps, "stepper" | "strips">) {
  const { jump, setJump, go, goEvent, isPlaying, play, speed, setSpeed } = stepper;
  const button = "h-7 px-1.5";
  return (
    <div className="sticky top-0 z-10 flex flex-col gap-1 border-rule border-b bg-sheet p-2">
      <div className="flex items-center gap-1">
        <Button className={button} aria-label="One event back" title="One event back (Alt+Shift+←)" onClick={() => goEvent(-1)}>
          <StepBack size={14} aria-hidden />
        </Button>
        <Button
          className={button}
          aria-label={`Back to the ${jump} before`}
          title={`Back to the ${jump} before (Alt+←)`}
          onClick={() => go(-1)}
        >
          <SkipBack size={14} aria-hidden />
        </Button>
        <Button className={button} aria-label={isPlaying ? "Pause" : "Play"} onClick={() => play(!isPlaying)}>
          {isPlaying ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
        </Button>
        <Button className={button} aria-label={`On to the next ${jump}`} title={`On to the next ${jump} (Alt+→)`} onClick={() => go(1)}>
          <SkipForward size={14} aria-hidden />
        </Button>
        <Button className={button} aria-label="One event on" title="One event on (Alt+Shift+→)" onClick={() => goEvent(1)}>
          <StepForward size={14} aria-hidden />
        </Button>
        <Select aria-label="Bars a second" className="w-auto" value={speed} onChange={(change) => setSpeed(Number(change.target.value))}>
          {SPEEDS.map((bars) => (
            <option key={bars} value={bars}>
              {bars} / s
            </option>
          ))}
        </Select>
      </div>
      <label className="flex items-center gap-2 text-soft">
        from
        <Select
          aria-label="What a step goes to"
          className="min-w-0 flex-1"
          value={jump}
          onChange={(change) => setJump(change.target.value)}
        >
          {JUMPS.map((kind) => (
            <option key={kind} value={kind}>
              {kind} to {kind}
            </option>
          ))}
          {strips.map(({ label }) => (
            <option key={label} value={conditionJump(label)}>
              change of {label}
            </option>
          ))}
        </Select>
      </label>
    </div>
  );
}

function Part({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <section className="border-rule border-b px-3 py-1.5">
      <h3 className="font-semibold text-soft">{title}</h3>
      <ul className="flex flex-col gap-0.5">{children}</ul>
    </section>
  );
}

function LineButton({ line, onLine }: { readonly line: number; readonly onLine: (line: number) => void }) {
  return line > 0 ? (
    <button
      type="button"
      className="w-6 shrink-0 text-right font-mono text-[11px] text-accent leading-5 hover:underline"
      aria-label={`Show line ${line}`}
      onClick={() => onLine(line)}
    >
      {line}
    </button>
  ) : (
    <span className="w-6 shrink-0" />
  );
}

function Account({ state, close, decimals }: { readonly state: TraceState; readonly close: number; readonly decimals: number }) {
  const price = (value: number | null): string => priceText(value, decimals);
  return (
    <section className="border-rule border-b px-3 py-1.5">
      <p className="flex justify-between">
        <span className="text-soft">equity</span>
        <strong>{number(state.equity, 2)}</strong>
      </p>
      <p className="flex justify-between">
        <span className="text-soft">cash</span>
        {number(state.cash, 2)}
      </p>
      {state.lots.length === 0 ? <p className="text-soft">no position</p> : null}
      {state.lots.map((lot) => (
        <div key={`${lot.symbol} ${lot.orderId}`} className="mt-1 border-accent border-l-2 pl-2">
          <p>
            {lot.symbol} {lot.side > 0 ? "long" : "short"} <strong>{units(lot.units)}</strong> from {price(lot.entryPrice)}{" "}
            {lot.tag ? `“${lot.tag}”` : ""}
          </p>
          <p className="text-soft">
            {signed((close - lot.entryPrice) * lot.side, decimals)} points · stop {price(lot.stop)}
            {lot.stop !== null && lot.stopReason !== "stop" ? ` (${lot.stopReason})` : ""} · target {price(lot.target)}
          </p>
        </div>
      ))}
      {state.orders.map((order) => (
        <p key={`${order.symbol}${order.id}`} className="mt-1 border-soft border-l-2 border-dashed pl-2">
          {order.side > 0 ? "buy" : "sell"} {order.kind} {order.quantity === null ? "all" : units(order.quantity)}{" "}
          {order.price === null ? "at the next price" : `at ${price(order.price)}`} {order.intent === "exit" ? "to close" : ""}
        </p>
      ))}
    </section>
  );
}
