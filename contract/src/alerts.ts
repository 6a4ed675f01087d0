/** Alerts of watches: what is told, through which channel, and what became of it. */
import type { FromSchema } from "json-schema-to-ts";

/** What an alert can be of. */
export const ALERT_EVENTS = [
  "signal",
  "order sent",
  "filled",
  "refused",
  "opened",
  "stop moved",
  "closed",
  "prompt",
  "lag",
  "drift",
  "account limit",
  "connection",
  "error",
  "ended",
  "plan's log",
] as const;
export type AlertEvent = (typeof ALERT_EVENTS)[number];

/** From the least to the most urgent. */
export const ALERT_LEVELS = ["info", "notice", "warning", "alert"] as const;

/** A level and those above it. */
export const levelsFrom = (level: (typeof ALERT_LEVELS)[number]): readonly (typeof ALERT_LEVELS)[number][] =>
  ALERT_LEVELS.slice(ALERT_LEVELS.indexOf(level));
export type AlertLevel = (typeof ALERT_LEVELS)[number];

/** Names that a template may use between double braces. */
export const TEMPLATE_FIELDS = ["watch", "plan", "instrument", "event", "level", "text", "by", "venueTime", "time", "id"] as const;
export type TemplateField = (typeof TEMPLATE_FIELDS)[number];

const id = { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" } as const;
const name = { type: "string", minLength: 1, maxLength: 80 } as const;
const line = { type: "string", maxLength: 500, pattern: "^[^\\r\\n]*$" } as const;
const address = { type: "string", minLength: 3, maxLength: 254, pattern: "^[^@\\s]+@[^@\\s]+$" } as const;
const text = { type: "string", maxLength: 20_000 } as const;
const clock = { type: "string", pattern: "^([01]\\d|2[0-3]):[0-5]\\d$" } as const;

export const emailSchema = {
  type: "object",
  additionalProperties: false,
  required: ["host", "port", "security", "user", "from", "to", "subject", "body"],
  properties: {
    host: { type: "string", minLength: 1, maxLength: 253, pattern: "^[A-Za-z0-9.:_-]+$" },
    port: { type: "integer", minimum: 1, maximum: 65_535 },
    /** "tls" from the first byte; "starttls" is asked for and must be given; "none" is for a server on this machine. */
    security: { enum: ["none", "starttls", "tls"] },
    /** "" where the server asks for none; the password is the channel's secret. */
    user: line,
    from: address,
    to: { type: "array", minItems: 1, maxItems: 20, items: address },
    subject: { ...line, minLength: 1 },
    body: { ...text, minLength: 1 },
  },
} as const;

export const webCallSchema = {
  type: "object",
  additionalProperties: false,
  required: ["url", "method", "headers", "body"],
  properties: {
    url: { type: "string", minLength: 8, maxLength: 2000, pattern: "^https?://[^\\s]+$" },
    method: { enum: ["POST", "PUT", "GET"] },
    headers: {
      type: "array",
      maxItems: 20,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["name", "value"],
        properties: {
          name: { type: "string", pattern: "^[A-Za-z0-9-]{1,60}$" },
          value: { type: "string", maxLength: 1000, pattern: "^[\\x20-\\x7E]*$" },
        },
      },
    },
    body: text,
  },
} as const;

export const alertChannelSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "name", "isOn", "kind", "email", "call"],
  properties: {
    id,
    name,
    isOn: { type: "boolean" },
    kind: { enum: ["screen", "e-mail", "web call"] },
    /** null but for an e-mail. */
    email: { anyOf: [emailSchema, { type: "null" }] },
    /** null but for a web call. */
    call: { anyOf: [webCallSchema, { type: "null" }] },
  },
} as const;

export const alertRuleSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "isOn", "watchId", "events", "leastLevel", "channels"],
  properties: {
    id,
    isOn: { type: "boolean" },
    /** null for every watch. */
    watchId: { anyOf: [id, { type: "null" }] },
    events: { type: "array", uniqueItems: true, maxItems: ALERT_EVENTS.length, items: { enum: ALERT_EVENTS } },
    leastLevel: { enum: ALERT_LEVELS },
    /** By their ids. */
    channels: { type: "array", uniqueItems: true, maxItems: 20, items: id },
  },
} as const;

export const alertSetupSchema = {
  type: "object",
  additionalProperties: false,
  required: ["revision", "channels", "rules", "quiet", "perMinute", "allowsPrivate"],
  properties: {
    /** Of the setup that was changed: one that was changed meanwhile is not overwritten. */
    revision: { type: "integer", minimum: 0 },
    channels: { type: "array", maxItems: 20, items: alertChannelSchema },
    rules: { type: "array", maxItems: 200, items: alertRuleSchema },
    /** Between these times e-mails and web calls wait, but for those of level "alert" where `lets` is set. */
    quiet: {
      type: "object",
      additionalProperties: false,
      required: ["isOn", "from", "to", "zone", "lets"],
      properties: {
        isOn: { type: "boolean" },
        from: clock,
        to: clock,
        zone: { type: "string", minLength: 1, maxLength: 60 },
        lets: { type: "boolean" },
      },
    },
    /** Most that one channel sends in a minute; others wait their turn. */
    perMinute: { type: "integer", minimum: 1, maximum: 600 },
    /** Whether web calls may go to this machine and to private networks. */
    allowsPrivate: { type: "boolean" },
  },
} as const;

export const alertSecretSchema = {
  type: "object",
  additionalProperties: false,
  required: ["secret"],
  properties: { secret: { type: "string", maxLength: 1000 } },
} as const;

export const alertPreviewSchema = {
  type: "object",
  additionalProperties: false,
  required: ["channel"],
  properties: { channel: alertChannelSchema },
} as const;

export const deliveriesQuerySchema = {
  type: "object",
  additionalProperties: false,
  properties: {
    offset: { type: "integer", minimum: 0, maximum: 1e9, default: 0 },
    limit: { type: "integer", minimum: 1, maximum: 500, default: 100 },
    watchId: { anyOf: [id, { const: "" }], default: "" },
    state: { enum: ["", "waiting", "sent", "failed", "left out"], default: "" },
  },
} as const;

export type EmailTarget = FromSchema<typeof emailSchema>;
export type WebCallTarget = FromSchema<typeof webCallSchema>;
export type AlertChannel = Omit<FromSchema<typeof alertChannelSchema>, "email" | "call"> & {
  readonly email: EmailTarget | null;
  readonly call: WebCallTarget | null;
};
export type AlertRule = FromSchema<typeof alertRuleSchema>;
export type AlertSetup = Omit<FromSchema<typeof alertSetupSchema>, "channels" | "rules"> & {
  readonly channels: readonly AlertChannel[];
  readonly rules: readonly AlertRule[];
};
export type AlertSecret = FromSchema<typeof alertSecretSchema>;
export interface AlertPreviewRequest {
  readonly channel: AlertChannel;
}
export type DeliveriesQuery = Required<FromSchema<typeof deliveriesQuerySchema>>;

export interface AlertsView {
  readonly setup: AlertSetup;
  /** Channels that have a secret. What it is, nobody is told. */
  readonly withSecret: readonly string[];
}

/** One alert on its way through one channel. */
export interface AlertDelivery {
  readonly id: number;
  /** Real time of the event. */
  readonly atMs: number;
  readonly watchId: string;
  readonly watchName: string;
  readonly event: AlertEvent | "test";
  readonly level: AlertLevel;
  readonly text: string;
  readonly channelId: string;
  readonly channelName: string;
  readonly state: "waiting" | "sent" | "failed" | "left out";
  readonly tries: number;
  /** What the other side answered, or why it was not sent. */
  readonly outcome: string;
  /** Real time of the last attempt; 0 before the first. */
  readonly doneMs: number;
}

export interface DeliveriesPage {
  readonly total: number;
  /** Newest first. */
  readonly deliveries: readonly AlertDelivery[];
}

/** What a channel would send for a past event. */
export interface AlertPreview {
  /** The event in words; whether it happened, or is an example because nothing has happened yet. */
  readonly of: string;
  readonly isExample: boolean;
  readonly subject: string;
  readonly body: string;
  /** Of a web call, those that are added included. */
  readonly headers: readonly { readonly name: string; readonly value: string }[];
}

/** What has come into the practice venue's mailbox and its address for web calls, newest first. */
export interface PracticeInbox {
  /** Where a channel reaches it. */
  readonly smtpPort: number;
  readonly callUrl: string;
  readonly mails: readonly {
    readonly id: number;
    readonly atMs: number;
    readonly from: string;
    readonly to: string;
    readonly subject: string;
    readonly text: string;
  }[];
  readonly calls: readonly {
    readonly id: number;
    readonly atMs: number;
    readonly method: string;
    readonly path: string;
    readonly headers: Readonly<Record<string, string>>;
    readonly body: string;
  }[];
}
