/** What a watch has to tell beyond its own page, and whether a rule wants it. */
import {
  ALERT_LEVELS,
  type AlertChannel,
  type AlertEvent,
  type AlertLevel,
  type AlertSetup,
  type TemplateField,
  type WatchEvent,
} from "@plan-tester/contract";

/** Of which watch. */
export interface AlertSource {
  readonly watchId: string;
  readonly watchName: string;
  readonly planTitle: string;
  readonly symbol: string;
}

export interface Alert extends AlertSource {
  readonly event: AlertEvent | "test";
  readonly level: AlertLevel;
  readonly text: string;
  readonly by: string;
  /** Of the venue's clock. */
  readonly timeMs: number;
  /** Real time. */
  readonly atMs: number;
}

/** How urgent each is; a line of the plan's log has its own level. */
const LEVEL_OF: Readonly<Record<Exclude<AlertEvent, "plan's log">, AlertLevel>> = {
  ...{ signal: "notice", "order sent": "info", filled: "notice", refused: "warning", opened: "notice", "stop moved": "info" },
  ...{
    closed: "notice",
    prompt: "alert",
    lag: "warning",
    drift: "warning",
    "account limit": "alert",
    connection: "warning",
    error: "alert",
    ended: "warning",
  },
};

export const levelOf = (event: AlertEvent, level: WatchEvent["level"]): AlertLevel =>
  event === "plan's log" ? level || "info" : LEVEL_OF[event];

const rank = (level: AlertLevel): number => ALERT_LEVELS.indexOf(level);

/** Channels that some rule sends it through, each once, in the setup's order. */
export function channelsFor({ watchId, event, level }: Alert, { rules, channels }: AlertSetup): readonly AlertChannel[] {
  const wanted = new Set(
    rules
      .filter((rule) => rule.isOn && (rule.watchId === null || rule.watchId === watchId))
      .filter((rule) => rank(level) >= rank(rule.leastLevel) && rule.events.some((name) => name === event))
      .flatMap((rule) => rule.channels),
  );
  return channels.filter(({ id, isOn }) => isOn && wanted.has(id));
}

/** UTC to the second. */
const moment = (ms: number): string => `${new Date(ms).toISOString().slice(0, 19).replace("T", " ")} UTC`;

/** What a template may name; the id comes when the alert is written down. */
export function fieldsOf(alert: Alert): Readonly<Record<TemplateField, string>> {
  const { watchName, planTitle, symbol, event, level, text, by, timeMs, atMs } = alert;
  return {
    ...{ watch: watchName, plan: planTitle, instrument: symbol, event, level, text, by, id: "" },
    ...{ venueTime: moment(timeMs), time: moment(atMs) },
  };
}
