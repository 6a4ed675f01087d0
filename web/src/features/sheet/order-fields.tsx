/** The order by which a sheet enters: its kind, level, offset, and how long it works. */
import { readValue, type SheetOrder, valueText } from "@plan-tester/core";
import { useState } from "react";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

export const ORDERS = {
  market: "at market",
  stop: "by stop orders",
  limit: "by limit orders",
  "price given": "by stop or limit orders, as the price lies",
};
const FIRST_LEVEL = readValue("highest (20) of high");

export function OrderFields({ order, onChange }: { readonly order: SheetOrder; readonly onChange: (order: SheetOrder) => void }) {
  const [problem, setProblem] = useState("");
  const choose = (kind: SheetOrder["kind"]): void => {
    if (kind === "market") return onChange({ kind });
    const last = order.kind === "market" ? { level: FIRST_LEVEL, offsetTicks: 0, goodForBars: 1, cancelsOther: true } : order;
    onChange({ ...last, kind });
  };
  return (
    <div className="flex w-80 flex-col gap-2">
      <Field label="Entries">
        {(id) => (
          <Select id={id} value={order.kind} onChange={({ target }) => choose(target.value as SheetOrder["kind"])}>
            {Object.entries(ORDERS).map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </Select>
        )}
      </Field>
      {order.kind === "market" ? null : (
        <>
          <Field label="Level of a long entry; that of a short is mirrored">
            {(id) => (
              <TextInput
                id={id}
                defaultValue={valueText(order.level)}
                maxLength={400}
                onBlur={({ target }) => {
                  try {
                    onChange({ ...order, level: readValue(target.value) });
                    setProblem("");
                  } catch (error) {
                    setProblem(error instanceof Error ? error.message : String(error));
                  }
                }}
              />
            )}
          </Field>
          {problem ? (
            <p role="alert" className="text-[12px] text-loss">
              {problem}
            </p>
          ) : null}
          <div className="grid grid-cols-2 gap-2">
            <NumberField label="Ticks away" value={order.offsetTicks} onChange={(offsetTicks) => onChange({ ...order, offsetTicks })} />
            <NumberField
              label="Works for bars, 0: the session"
              whole
              min={0}
              value={order.goodForBars}
              onChange={(goodForBars) => onChange({ ...order, goodForBars })}
            />
          </div>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-(--accent)"
              checked={order.cancelsOther}
              onChange={({ target }) => onChange({ ...order, cancelsOther: target.checked })}
            />
            The first to fill cancels the other side's
          </label>
        </>
      )}
    </div>
  );
}
