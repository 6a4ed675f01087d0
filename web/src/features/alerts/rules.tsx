/** Rules as sentences: the events of which watch, from which level on, through which channels. */
import { ALERT_LEVELS, type AlertLevel, type AlertRule, type AlertSetup } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/field.tsx";
import { Checks } from "./checks.tsx";
import { EVENT_OPTIONS } from "./event-words.ts";
import { newId, put } from "./use-setup.ts";

export interface RulesProps {
  readonly setup: AlertSetup;
  readonly onChange: (rules: readonly AlertRule[]) => void;
  readonly onRemove: (id: string) => void;
}

export function Rules({ setup, onChange, onRemove }: RulesProps) {
  const { rules, channels } = setup;
  const [fresh, setFresh] = useState("");
  const add = (): void => {
    const id = newId();
    setFresh(id);
    onChange([
      ...rules,
      {
        ...{ id, isOn: true, watchId: null, leastLevel: "info" },
        events: ["filled", "closed"],
        channels: channels.slice(0, 1).map((one) => one.id),
      },
    ]);
  };
  return (
    <section aria-label="Rules" className="flex flex-col gap-2">
      <div className="flex items-center gap-3">
        <h2 className="flex-1 font-semibold">What is told</h2>
        <Button onClick={add}>Add a rule</Button>
      </div>
      {rules.length === 0 ? <p className="text-soft">No rule: nothing is told. What happens is in each watch's log all the same.</p> : null}
      <ul className="flex flex-col divide-y divide-rule/60 border-rule border-y">
        {rules.map((rule) => (
          <RuleRow
            key={rule.id}
            {...{ rule, setup }}
            isFresh={rule.id === fresh}
            onChange={(next) => onChange(put(rules, next))}
            onRemove={() => onRemove(rule.id)}
          />
        ))}
      </ul>
    </section>
  );
}

interface RuleRowProps {
  readonly rule: AlertRule;
  readonly setup: AlertSetup;
  readonly isFresh: boolean;
  readonly onChange: (rule: AlertRule) => void;
  readonly onRemove: () => void;
}

function RuleRow({ rule, setup, isFresh, onChange, onRemove }: RuleRowProps) {
  const watches = useQuery(queries.watches());
  const { isOn, watchId, events, leastLevel, channels } = rule;
  const change = (part: Partial<AlertRule>): void => onChange({ ...rule, ...part });
  const known = watches.data?.some(({ id }) => id === watchId) ?? true;
  return (
    <li className="flex items-start gap-2 py-2" data-state={isOn ? "on" : "off"}>
      <div className="flex flex-1 flex-wrap items-center gap-x-2 gap-y-1">
        <input type="checkbox" aria-label="The rule is on" checked={isOn} onChange={(event) => change({ isOn: event.target.checked })} />
        Of
        <Select
          aria-label="Watch"
          className="w-auto max-w-56"
          value={watchId ?? ""}
          autoFocus={isFresh}
          onChange={(event) => change({ watchId: event.target.value || null })}
        >
          <option value="">every watch</option>
          {watchId && !known ? <option value={watchId}>a watch that was deleted</option> : null}
          {watches.data?.map(({ id, name, state }) => (
            <option key={id} value={id}>
              {name}
              {state === "ended" ? " (ended)" : ""}
            </option>
          ))}
        </Select>
        tell
        <Checks label="Events" none="nothing" options={EVENT_OPTIONS} chosen={events} onChange={(next) => change({ events: next })} />
        from level
        <Select
          aria-label="Least level"
          className="w-auto"
          value={leastLevel}
          onChange={(event) => change({ leastLevel: event.target.value as AlertLevel })}
        >
          {ALERT_LEVELS.map((level) => (
            <option key={level}>{level}</option>
          ))}
        </Select>
        on, through
        <Checks
          label="Channels"
          none="no channel"
          options={setup.channels.map(({ id, name, isOn: open }) => ({ value: id, label: name, hint: open ? "" : "switched off" }))}
          chosen={channels}
          onChange={(next) => change({ channels: next })}
        />
      </div>
      <Button variant="quiet" aria-label="Remove the rule" onClick={onRemove}>
        <Trash2 size={14} aria-hidden />
      </Button>
    </li>
  );
}
