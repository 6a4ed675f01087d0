/** What alerts can be of, in words. */
import type { AlertEvent } from "@plan-tester/contract";

export const EVENT_LABELS: Readonly<Record<AlertEvent, string>> = {
  signal: "signals not sent",
  "order sent": "orders sent",
  filled: "fills",
  refused: "refusals",
  opened: "positions opened",
  "stop moved": "stops moved",
  closed: "trades closed",
  prompt: "prompts",
  lag: "lag",
  drift: "drift",
  "account limit": "account limits",
  connection: "connection",
  error: "errors",
  ended: "ended by itself",
  "plan's log": "the plan's log",
};

export const EVENT_HINTS: Readonly<Record<AlertEvent, string>> = {
  signal: "notice: an entry in alerts only, while paused, or from a bar that is too old",
  "order sent": "info",
  filled: "notice",
  refused: "warning",
  opened: "notice",
  "stop moved": "info",
  closed: "notice",
  prompt: "alert: an order waits for your word",
  lag: "warning: bars come too late for entries, or in time again",
  drift: "warning: it differs from the backtest of the same bars by more than its limit",
  "account limit": "alert: a limit on losses of the account was hit",
  connection: "warning: the line to the venue broke, or is back",
  error: "alert: the plan failed, or something is left without a stop",
  ended: "warning",
  "plan's log": "the level that the plan gave",
};

/** For a list of them. */
export const EVENT_OPTIONS = Object.entries(EVENT_LABELS).map(([value, label]) => ({
  value: value as AlertEvent,
  label,
  hint: EVENT_HINTS[value as AlertEvent],
}));
