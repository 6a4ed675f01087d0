/** What is told of watches that are about to start, besides what rules tell of every watch. */
import type { AlertEvent } from "@plan-tester/contract";
import { Link } from "react-router";
import { count } from "../../lib/format.ts";
import { Checks } from "./checks.tsx";
import { EVENT_OPTIONS } from "./event-words.ts";
import { newId, useSetup } from "./use-setup.ts";

export interface StartRule {
  readonly events: readonly AlertEvent[];
  /** By their ids; none where nothing more is to be told. */
  readonly channels: readonly string[];
}

export const FIRST_RULE: StartRule = { events: ["refused", "opened", "closed", "prompt", "connection", "error", "ended"], channels: [] };

export interface StartRuleFieldsProps {
  readonly rule: StartRule;
  readonly onChange: (rule: StartRule) => void;
}

export function StartRuleFields({ rule, onChange }: StartRuleFieldsProps) {
  const { setup } = useSetup();
  if (!setup) return null;
  const ofAll = setup.rules.filter(({ watchId, isOn }) => isOn && watchId === null).length;
  return (
    <div className="flex flex-wrap items-baseline gap-x-1.5 gap-y-1">
      Tell
      <Checks
        label="Events"
        none="nothing"
        options={EVENT_OPTIONS}
        chosen={rule.events}
        onChange={(events) => onChange({ ...rule, events })}
      />
      through
      <Checks
        label="Channels"
        none="no channel"
        options={setup.channels.map(({ id, name, isOn }) => ({ value: id, label: name, hint: isOn ? "" : "switched off" }))}
        chosen={rule.channels}
        onChange={(channels) => onChange({ ...rule, channels })}
      />
      <span className="text-[13px] text-soft">
        · {ofAll === 0 ? "No rule is for every watch." : `${count(ofAll, "rule")} for every watch ${ofAll === 1 ? "goes" : "go"} on top.`}{" "}
        <Link to="/alerts" className="underline">
          Alerts
        </Link>
      </span>
    </div>
  );
}

/** Adds the rule for watches that have just started. */
export function useTellOf(): (rule: StartRule, watchIds: readonly string[]) => Promise<void> {
  const { setup, change } = useSetup();
  return async ({ events, channels }, watchIds) => {
    if (!setup || channels.length === 0 || events.length === 0 || watchIds.length === 0) return;
    const fresh = watchIds.map((watchId) => ({
      ...{ id: newId(), isOn: true, watchId, leastLevel: "info" as const },
      ...{ events: [...events], channels: [...channels] },
    }));
    await change({ rules: [...setup.rules, ...fresh] });
  };
}
