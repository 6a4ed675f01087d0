/** Chooses the exit kits of a stop study; each becomes a variant, is run, and all are set side by side. */
import type { ExitKit } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { type KitRange, kitsOverRange, MOST_KITS, RANGED_WORDS, type Ranged, rangedIn } from "./stop-study.ts";

/** A kit of a study, or none under a name. */
export interface StudiedKit {
  readonly name: string;
  readonly kit: ExitKit | null;
}

export interface StopStudyDialogProps {
  /** The kit of the run's settings. */
  readonly kit: ExitKit | null;
  readonly onStart: (kits: readonly StudiedKit[]) => void;
  readonly onClose: () => void;
}

const NO_KIT: StudiedKit = { name: "No exit kit", kit: null };

export function StopStudyDialog({ kit, onStart, onClose }: StopStudyDialogProps) {
  const library = useQuery(queries.kits()).data ?? [];
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set([NO_KIT.name]));
  const ranged = rangedIn(kit);
  const [range, setRange] = useState<KitRange | null>(null);
  const present = kit ? [{ name: kit.name || "The present kit", kit }] : [];
  const offered: readonly StudiedKit[] = [
    NO_KIT,
    ...present.filter(({ name }) => !library.some((one) => one.name.toLowerCase() === name.toLowerCase())),
    ...library.map(({ name, kit: own }) => ({ name, kit: own })),
  ];
  const overRange = kit && range ? kitsOverRange(kit, range) : [];
  const kits = [...offered.filter(({ name }) => chosen.has(name)), ...overRange.map((one) => ({ name: one.name, kit: one }))];
  const toggle = (name: string): void => {
    const next = new Set(chosen);
    if (!next.delete(name)) next.add(name);
    setChosen(next);
  };
  const firstRange = (of: Ranged): KitRange => {
    const { value } = (of === "trail" ? kit!.long?.trail?.distance : kit!.long?.[of]) ?? { value: 10 };
    return { of, from: value / 2, to: value * 2, step: value / 2 };
  };
  return (
    <Modal
      title="Stop study"
      description="The plan is run under each of these exit kits, on the present period and inputs. Each becomes a variant of the plan; all are kept and set side by side."
      onClose={onClose}
    >
      <div className="flex flex-col gap-3">
        <fieldset>
          <legend className="text-[13px] text-soft">Exit kits</legend>
          <ul className="max-h-60 overflow-auto">
            {offered.map(({ name }) => (
              <li key={name}>
                <label className="flex items-center gap-2 py-0.5">
                  <input type="checkbox" className="size-4 accent-(--accent)" checked={chosen.has(name)} onChange={() => toggle(name)} />
                  {name}
                </label>
              </li>
            ))}
          </ul>
        </fieldset>
        {ranged.length > 0 ? (
          <div className="grid grid-cols-[1.4fr_1fr_1fr_1fr] items-end gap-2">
            <Field label="And the present kit over">
              {(id) => (
                <Select
                  id={id}
                  value={range?.of ?? ""}
                  onChange={({ target }) => setRange(target.value === "" ? null : firstRange(target.value as Ranged))}
                >
                  <option value="">nothing</option>
                  {ranged.map((of) => (
                    <option key={of} value={of}>
                      {RANGED_WORDS[of]}
                    </option>
                  ))}
                </Select>
              )}
            </Field>
            {(["from", "to", "step"] as const).map((end) => (
              <NumberField
                key={end}
                label={end}
                value={range?.[end] ?? null}
                disabled={!range}
                above={0}
                onChange={(value) => range && setRange({ ...range, [end]: value })}
              />
            ))}
          </div>
        ) : (
          <p className="text-[13px] text-soft">
            A kit with a stop loss, a target or a trail in the run's settings could be varied over a range here.
          </p>
        )}
        {kits.length > MOST_KITS ? <p className="text-loss">{count(MOST_KITS, "kit")} are the most: widen the steps.</p> : null}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={kits.length < 2 || kits.length > MOST_KITS} onClick={() => onStart(kits)}>
            Run {count(Math.min(kits.length, MOST_KITS), "variant")} and compare
          </Button>
        </div>
      </div>
    </Modal>
  );
}
