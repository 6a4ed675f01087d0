/**
 * An exit kit laid over the plan: exits, size and limits on entries, without touching its program, for both sides
 * together or each on its own.
 */
import type { Market, RunSettings } from "@plan-tester/contract";
import { EMPTY_KIT, type ExitKit, NO_EXITS } from "@plan-tester/core";
import { useId, useState } from "react";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { EntryLimitFields } from "../inputs/entry-limit-fields.tsx";
import { ExitsFields } from "../inputs/exits-fields.tsx";
import { KitPicture } from "../inputs/kit-picture.tsx";
import { KitTodayProvider } from "../inputs/kit-today.tsx";
import { LossLimitFields } from "../inputs/loss-limit-fields.tsx";
import { SizeFields } from "../inputs/size-fields.tsx";
import { WindowFields } from "../inputs/window-fields.tsx";
import { KitFile } from "./kit-file.tsx";
import { KitLibrary } from "./kit-library.tsx";

export const kitWords = ({ kit }: RunSettings): string => (kit ? kit.name || "an exit kit" : "no exit kit");

export interface KitFormProps {
  readonly settings: RunSettings;
  readonly markets: readonly Market[];
  readonly set: (change: Partial<RunSettings>) => void;
}

export function KitForm({ settings, markets, set }: KitFormProps) {
  const { kit } = settings;
  const change = (part: Partial<ExitKit>): void => set({ kit: { ...(kit ?? EMPTY_KIT), ...part } });
  const [areApart, setApart] = useState(false);
  const areTogether = kit !== null && !areApart && JSON.stringify(kit.long) === JSON.stringify(kit.short);
  return (
    <div className="flex w-[30rem] flex-col gap-2 p-1">
      <div className="flex items-end justify-between gap-2">
        <p className="max-w-64 text-[13px] text-soft">
          {kit ? "Laid over the plan as it is: the program stays untouched." : "Lay exits and limits over the plan without touching it."}
        </p>
        <span className="flex gap-1">
          <KitFile kit={kit} onLoad={(loaded) => set({ kit: loaded })} />
          {kit ? (
            <Button variant="danger" onClick={() => set({ kit: null })}>
              Remove
            </Button>
          ) : (
            <Button onClick={() => change({ name: "My kit" })}>New kit</Button>
          )}
        </span>
      </div>
      <KitLibrary kit={kit} onUse={(chosen) => set({ kit: chosen })} />
      {kit ? (
        <KitTodayProvider settings={settings} markets={markets}>
          <KitPicture kit={kit} onChange={(side, exits) => change(areTogether ? { long: exits, short: exits } : { [side]: exits })} />
          <KitFields {...{ kit, change, areTogether, setApart }} />
        </KitTodayProvider>
      ) : null}
    </div>
  );
}

interface KitFieldsProps {
  readonly kit: ExitKit;
  readonly change: (part: Partial<ExitKit>) => void;
  /** Whether longs and shorts have the same exits. */
  readonly areTogether: boolean;
  readonly setApart: (areApart: boolean) => void;
}

function KitFields({ kit, change, areTogether, setApart }: KitFieldsProps) {
  const id = useId();
  const exits = kit.long ?? NO_EXITS;
  return (
    <>
      <div className="grid grid-cols-2 items-end gap-2">
        <Field label="Name">
          {(field) => <TextInput id={field} value={kit.name} maxLength={80} onChange={({ target }) => change({ name: target.value })} />}
        </Field>
        <label htmlFor={id} className="flex h-7 items-center gap-2">
          <input
            id={id}
            type="checkbox"
            className="size-4 accent-(--accent)"
            checked={kit.plansExits}
            onChange={({ target }) => change({ plansExits: target.checked })}
          />
          The plan's own exits stay in force
        </label>
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-(--accent)"
          checked={areTogether}
          onChange={({ target }) => {
            setApart(!target.checked);
            if (target.checked) change({ short: kit.long });
          }}
        />
        The same exits for longs and shorts
      </label>
      {areTogether ? (
        <ExitsFields exits={exits} onChange={(next) => change({ long: next, short: next })} />
      ) : (
        (["long", "short"] as const).map((side) => (
          <ExitsFields
            key={side}
            side={side === "long" ? "Long" : "Short"}
            exits={kit[side] ?? NO_EXITS}
            onChange={(next) => change({ [side]: next })}
          />
        ))
      )}
      <div className="grid grid-cols-3 items-end gap-2">
        <Field label="Sides">
          {(field) => (
            <Select id={field} value={kit.sides} onChange={({ target }) => change({ sides: target.value as ExitKit["sides"] })}>
              <option value="both">both</option>
              <option value="long">long only</option>
              <option value="short">short only</option>
            </Select>
          )}
        </Field>
        <Field label="Positions">
          {(field) => (
            <Select
              id={field}
              value={kit.onePosition ? "one" : "any"}
              onChange={({ target }) => change({ onePosition: target.value === "one" })}
            >
              <option value="any">as the plan says</option>
              <option value="one">one at a time</option>
            </Select>
          )}
        </Field>
        <EntryLimitFields limit={kit.entryLimit ?? null} onChange={(entryLimit) => change({ entryLimit })} />
        <NumberField
          label="Entries per session"
          value={kit.entriesPerSession}
          placeholder="any"
          {...BOUNDS.entriesPerSession}
          onChange={(entriesPerSession) => change({ entriesPerSession })}
          onEmpty={() => change({ entriesPerSession: null })}
        />
        <NumberField
          label="Cool-down bars after a loss"
          value={kit.coolDownBars}
          placeholder="none"
          {...BOUNDS.coolDownBars}
          onChange={(coolDownBars) => change({ coolDownBars })}
          onEmpty={() => change({ coolDownBars: null })}
        />
      </div>
      <LossLimitFields kit={kit} change={change} />
      <div className="grid grid-cols-[18rem_1fr] items-start gap-2">
        <SizeFields
          size={kit.size?.by === "volatility percent" ? null : kit.size}
          unset="as the plan says"
          onChange={(size) => change({ size })}
        />
        <NumberField
          label="Largest size, units"
          value={kit.maxQuantity ?? null}
          placeholder="no limit"
          {...BOUNDS.kitMaxQuantity}
          onChange={(maxQuantity) => change({ maxQuantity })}
          onEmpty={() => change({ maxQuantity: null })}
        />
      </div>
      <div className="grid grid-cols-2 items-start gap-2">
        <WindowFields label="Longs are entered" window={kit.longWindow} onChange={(longWindow) => change({ longWindow })} />
        <WindowFields label="Shorts are entered" window={kit.shortWindow} onChange={(shortWindow) => change({ shortWindow })} />
      </div>
      <Field label="Entries only while" hint="A condition in words, e.g. atr(14) < 3 and close > ema(close, 200)">
        {(field) => (
          <span className="flex items-center gap-2">
            <TextInput
              id={field}
              className={`flex-1 font-mono text-[12px] ${kit.isFilterOff ? "opacity-60" : ""}`}
              value={kit.filter}
              maxLength={400}
              onChange={({ target }) => change({ filter: target.value })}
            />
            <label className="flex items-center gap-1.5 text-[13px]">
              <input
                type="checkbox"
                className="size-4 accent-(--accent)"
                checked={!kit.isFilterOff}
                disabled={kit.filter.trim() === ""}
                onChange={({ target }) => change({ isFilterOff: !target.checked })}
              />
              on
            </label>
          </span>
        )}
      </Field>
    </>
  );
}
