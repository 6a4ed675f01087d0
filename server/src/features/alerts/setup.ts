/** The channels and rules that there are at first, and what a setup has to keep beyond its schema. */
import type { AlertChannel, AlertSetup } from "@plan-tester/contract";
import { isZoneName, PlanTesterError } from "@plan-tester/core";
import { checkTemplate } from "./template.ts";

export const FIRST_SETUP: AlertSetup = {
  revision: 0,
  channels: [{ id: "screen", name: "On screen", isOn: true, kind: "screen", email: null, call: null }],
  rules: [
    {
      ...{ id: "first", isOn: true, watchId: null, leastLevel: "warning", channels: ["screen"] },
      events: ["refused", "lag", "drift", "connection", "error", "ended", "plan's log"],
    },
  ],
  quiet: { isOn: false, from: "22:00", to: "07:00", zone: "UTC", lets: true },
  ...{ perMinute: 20, allowsPrivate: false },
};

/** What the connection itself says. */
const OWN_HEADERS: ReadonlySet<string> = new Set([
  "host",
  "content-length",
  "connection",
  "transfer-encoding",
  "expect",
  "upgrade",
  "te",
  "trailer",
]);

const wrong = (message: string, details: Readonly<Record<string, unknown>> = {}): PlanTesterError =>
  new PlanTesterError("bad-input", message, details);

/** @throws PlanTesterError bad-input */
export function checkChannel({ name, kind, email, call }: AlertChannel): void {
  if ((kind === "e-mail") !== (email !== null) || (kind === "web call") !== (call !== null))
    throw wrong(`The channel "${name}" is of the kind "${kind}" and has the fields of another.`, { channel: name });
  if (email) for (const part of ["subject", "body"] as const) checkTemplate(email[part], `The ${part} of "${name}"`);
  if (!call) return;
  checkTemplate(call.body, `The body of "${name}"`);
  checkTemplate(call.url, `The address of "${name}"`);
  if (!URL.canParse(call.url)) throw wrong(`The address of "${name}" is none: ${call.url}.`, { channel: name });
  const { username, password } = new URL(call.url);
  if (username || password)
    throw wrong(`The address of "${name}" holds a password; put it into a header or the secret.`, { channel: name });
  for (const header of call.headers) {
    checkTemplate(header.value, `The header ${header.name} of "${name}"`);
    if (OWN_HEADERS.has(header.name.toLowerCase()))
      throw wrong(`The header ${header.name} of "${name}" is set by the connection itself.`, { channel: name });
  }
}

/** @throws PlanTesterError bad-input */
export function checkSetup({ channels, rules, quiet }: AlertSetup): void {
  const ids = new Set(channels.map(({ id }) => id));
  if (ids.size < channels.length) throw wrong("Two channels have the same id.");
  if (new Set(rules.map(({ id }) => id)).size < rules.length) throw wrong("Two rules have the same id.");
  for (const channel of channels) checkChannel(channel);
  for (const rule of rules)
    for (const id of rule.channels) if (!ids.has(id)) throw wrong(`A rule sends through "${id}", which is no channel.`, { channel: id });
  if (!isZoneName(quiet.zone))
    throw wrong(`The zone of the quiet hours is none: ${quiet.zone}. Zones are named like "Atlantic/Faroe" or "UTC".`);
}
