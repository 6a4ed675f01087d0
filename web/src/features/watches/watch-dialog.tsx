/** Sets a plan to watch on the practice venue, with the inputs and settings of its draft: says what will run where, and how it may act. */
import { PLAIN_WATCH_OPTIONS, type WatchOptions, watchOptionsSchema } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { number } from "../../lib/format.ts";
import { boundsOf } from "../../lib/read-number.ts";
import { remembered } from "../../lib/site-data.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import type { Draft } from "../drafts/use-draft.ts";
import { MODES } from "./watch-actions.tsx";

export interface WatchDialogProps {
  readonly planId: string;
  readonly title: string;
  readonly draft: Draft;
  readonly onClose: () => void;
  readonly onStarted: (id: string) => void;
}

const REMEMBERED = "watch options";
const { properties } = watchOptionsSchema;

/** As they were chosen last. */
function firstOptions(): WatchOptions {
  try {
    // What an earlier version remembered otherwise is refused by the server, in words.
    return { ...PLAIN_WATCH_OPTIONS, ...(JSON.parse(remembered.getItem(REMEMBERED) ?? "{}") as Partial<WatchOptions>) };
  } catch {
    return PLAIN_WATCH_OPTIONS;
  }
}

const MEANS: Readonly<Record<WatchOptions["mode"], string>> = {
  automatic: "It sends its own orders; nothing is asked first.",
  "ask first": "Each entry waits for your word and lapses if you give none; exits are sent.",
  "alerts only": "Nothing is sent: what it would do is noted.",
};

export function WatchDialog({ planId, title, draft, onClose, onStarted }: WatchDialogProps) {
  const createWatch = useChange("createWatch");
  const { source, inputs, settings } = draft;
  const [name, setName] = useState(title);
  const [options, setOptions] = useState(firstOptions);
  const change = (part: Partial<WatchOptions>): void => setOptions({ ...options, ...part });
  const start = async (): Promise<void> => {
    remembered.setItem(REMEMBERED, JSON.stringify({ ...options, account: "" }));
    const started = await createWatch.run({}, { planId, source, inputs, settings, name: name.trim() || title, options });
    if (started) onStarted(started.reply.id);
  };
  return (
    <Modal
      title={`Watch ${title}`}
      description="The plan goes to work on the practice venue: a simulated exchange that carries the market on past the end of the history."
      onClose={onClose}
    >
      <CheckedForm onSubmit={() => void start()} className="flex flex-col gap-3">
        <p>
          It runs on <strong>{[settings.symbol, ...settings.alsoOn].join(", ")}</strong> in{" "}
          <strong>{timeframeLabel(settings.timeframe)}</strong> bars with <strong>{number(settings.cash)}</strong> crowns of practice money,
          as the same program as its backtest with finer paths. {MEANS[options.mode]}
        </p>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Name">
            {(id) => <TextInput id={id} value={name} maxLength={80} onChange={(event) => setName(event.target.value)} />}
          </Field>
          <Field label="Mode">
            {(id) => (
              <Select id={id} value={options.mode} onChange={(event) => change({ mode: event.target.value as WatchOptions["mode"] })}>
                {MODES.map((mode) => (
                  <option key={mode}>{mode}</option>
                ))}
              </Select>
            )}
          </Field>
          {options.mode === "ask first" ? (
            <>
              <NumberField
                label="A prompt lapses after, minutes"
                {...boundsOf(properties.promptMinutes)}
                value={options.promptMinutes}
                onChange={(promptMinutes) => change({ promptMinutes })}
              />
              <label className="flex items-center gap-2 self-end pb-1">
                <input type="checkbox" checked={options.asksExits} onChange={(event) => change({ asksExits: event.target.checked })} />
                Ask before exits too
              </label>
            </>
          ) : null}
          <NumberField
            label="Rounds"
            hint="An entry and its exit each; empty for endless."
            whole
            {...{ min: 1, max: 100_000 }}
            value={options.rounds}
            onChange={(rounds) => change({ rounds })}
            onEmpty={() => change({ rounds: null })}
          />
          <NumberField
            label="Oldest bar that sends entries, seconds"
            hint="Of the venue's clock; empty for half a bar."
            {...{ min: 1, max: 1e7 }}
            value={options.patienceSeconds}
            onChange={(patienceSeconds) => change({ patienceSeconds })}
            onEmpty={() => change({ patienceSeconds: null })}
          />
          <Field label="Account at the venue" hint="Empty for one of its own; plans that share one touch only their own lots.">
            {(id) => (
              <TextInput
                id={id}
                value={options.account}
                pattern="[A-Za-z0-9_-]*"
                maxLength={40}
                aria-invalid={!/^[A-Za-z0-9_-]*$/.test(options.account)}
                onChange={(event) => change({ account: event.target.value })}
              />
            )}
          </Field>
        </div>
        <p className="text-soft">
          Orders are filled by the rules of the backtest, and stay at the venue with their stop and target should this server stop.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" type="submit" disabled={createWatch.isRunning}>
            {createWatch.isRunning ? "Starting…" : "Start watching"}
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
