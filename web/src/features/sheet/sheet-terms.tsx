/** What a sheet says beside its rules, as sentences whose words are the controls: orders, size, exits, windows, guards. */
import { distanceText, type KitExits, type KitWindow, type RuleSheet, type SheetOrder, sizeText, valueText } from "@plan-tester/core";
import { ChoiceList } from "../../ui/choice-list.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Word } from "../../ui/word.tsx";
import { ExitsFields } from "../inputs/exits-fields.tsx";
import { SizeFields } from "../inputs/size-fields.tsx";
import { WindowFields } from "../inputs/window-fields.tsx";
import { ORDERS, OrderFields } from "./order-fields.tsx";

export interface SheetTermsProps {
  readonly sheet: RuleSheet;
  readonly onChange: (sheet: RuleSheet) => void;
}

const OPEN = { wait: "nothing is entered", add: "entries add to it", reverse: "an opposite entry closes it and reverses" };

export function SheetTerms({ sheet, onChange }: SheetTermsProps) {
  const { order, guards, longExits, shortExits } = sheet;
  const set = (part: Partial<RuleSheet>): void => onChange({ ...sheet, ...part });
  return (
    <div className="flex flex-col gap-1.5 leading-6">
      <p>
        Rules send{" "}
        <Choice
          label="What rules do"
          value={sheet.acts}
          of={{ orders: "orders", alerts: "alerts only" }}
          onChange={(acts) => set({ acts })}
        />
        ; those that hold for a while act{" "}
        <Choice
          label="When states act"
          value={sheet.entersOn}
          of={{ beginning: "on the bar on which they begin to hold", "every bar": "on every bar on which they hold" }}
          onChange={(entersOn) => set({ entersOn })}
        />
        .
      </p>
      {sheet.acts === "orders" ? (
        <>
          <p>
            Entries are{" "}
            <Word label="Kind of order" text={orderWords(order)} readOnly={false}>
              {() => <OrderFields order={order} onChange={(next) => set({ order: next })} />}
            </Word>{" "}
            of{" "}
            <Word label="Size" text={sizeText(sheet.size)} readOnly={false}>
              {() => <SizeFields size={sheet.size} onChange={(size) => set({ size })} />}
            </Word>
            .
          </p>
          <p>
            {shortExits ? "Longs have" : "They have"}{" "}
            <Word label={shortExits ? "Exits of longs" : "Exits"} text={exitsWords(longExits)} readOnly={false}>
              {() => <ExitsFields exits={longExits} hasWeek={false} onChange={(next) => set({ longExits: next })} />}
            </Word>
            {shortExits ? (
              <>
                , shorts{" "}
                <Word label="Exits of shorts" text={exitsWords(shortExits)} readOnly={false}>
                  {() => <ExitsFields exits={shortExits} hasWeek={false} onChange={(next) => set({ shortExits: next })} />}
                </Word>
              </>
            ) : null}
            ; both sides{" "}
            <Choice
              label="Exits of both sides"
              value={shortExits ? "own" : "same"}
              of={{ same: "have the same exits", own: "have exits of their own" }}
              onChange={(which) => set({ shortExits: which === "own" ? longExits : null })}
            />
            .
          </p>
          <p>
            While a position is open{" "}
            <Choice
              label="While a position is open"
              value={guards.whileOpen}
              of={OPEN}
              onChange={(whileOpen) => set({ guards: { ...guards, whileOpen } })}
            />
            ;{" "}
            <Word
              label="Entries per session"
              text={guards.entriesPerSession === null ? "any number of entries" : `at most ${guards.entriesPerSession} entries`}
              readOnly={false}
            >
              {() => (
                <NumberField
                  label="Entries per session"
                  whole
                  min={0}
                  placeholder="any"
                  value={guards.entriesPerSession}
                  onChange={(entriesPerSession) => set({ guards: { ...guards, entriesPerSession } })}
                  onEmpty={() => set({ guards: { ...guards, entriesPerSession: null } })}
                />
              )}
            </Word>{" "}
            a session, and{" "}
            <Word
              label="Cool-down after a loss"
              text={guards.coolDownBars === null ? "no pause" : `a pause of ${guards.coolDownBars} bars`}
              readOnly={false}
            >
              {() => (
                <NumberField
                  label="Bars without entries after a loss"
                  whole
                  min={0}
                  placeholder="none"
                  value={guards.coolDownBars}
                  onChange={(coolDownBars) => set({ guards: { ...guards, coolDownBars } })}
                  onEmpty={() => set({ guards: { ...guards, coolDownBars: null } })}
                />
              )}
            </Word>{" "}
            after a loss.
          </p>
        </>
      ) : null}
      <p>
        Longs are entered{" "}
        <Word label="Entry window of longs" text={windowWords(sheet.longWindow)} readOnly={false}>
          {() => <WindowFields window={sheet.longWindow} onChange={(longWindow) => set({ longWindow })} />}
        </Word>
        , shorts{" "}
        <Word label="Entry window of shorts" text={windowWords(sheet.shortWindow)} readOnly={false}>
          {() => <WindowFields window={sheet.shortWindow} onChange={(shortWindow) => set({ shortWindow })} />}
        </Word>
        .
      </p>
    </div>
  );
}

function Choice<Key extends string>({
  label,
  value,
  of,
  onChange,
}: {
  readonly label: string;
  readonly value: Key;
  readonly of: Readonly<Record<Key, string>>;
  readonly onChange: (value: Key) => void;
}) {
  return (
    <Word label={label} text={of[value]} readOnly={false}>
      {(close) => (
        <ChoiceList
          {...{ label, of, value }}
          onChoose={(key) => {
            onChange(key);
            close();
          }}
        />
      )}
    </Word>
  );
}

function orderWords(order: SheetOrder): string {
  if (order.kind === "market") return ORDERS.market;
  const away = order.offsetTicks === 0 ? "at" : `${order.offsetTicks} ticks ${order.kind === "limit" ? "before" : "beyond"}`;
  return `${ORDERS[order.kind]} ${away} ${valueText(order.level)}, ${order.goodForBars === 0 ? "for the session" : `for ${order.goodForBars} bars`}`;
}

function windowWords(window: KitWindow | null): string {
  if (!window) return "at any time";
  return window.by === "clock" ? `from ${window.from} to ${window.to}` : `on bars ${window.from} to ${window.to} of the session`;
}

function exitsWords({ stopLoss, target, trail, breakEven, locks, timeLimit, flat }: KitExits): string {
  const words = [
    ...(stopLoss ? [`a stop loss of ${distanceText(stopLoss)}`] : []),
    ...(target ? [`a target of ${distanceText(target)}`] : []),
    ...(trail ? [`a trail of ${distanceText(trail.distance)}`] : []),
    ...(breakEven ? [`break-even after ${distanceText(breakEven.after)}`] : []),
    ...(locks.length > 0 ? [`${locks.length} ${locks.length === 1 ? "lock" : "locks"}`] : []),
    ...(timeLimit ? [`a limit of ${"bars" in timeLimit ? `${timeLimit.bars} bars` : `${timeLimit.minutes} minutes`}`] : []),
    ...(flat ? [`an end ${flat.minutes} minutes before the close`] : []),
  ];
  return words.length === 0 ? "no exits but the exit rules" : words.join(", ");
}
