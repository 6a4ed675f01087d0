/** What a new channel begins with. */
import type { EmailTarget, WebCallTarget } from "@plan-tester/contract";

const BODY = `{{text}}

Watch: {{watch}} ({{plan}} on {{instrument}})
By: {{by}}
Time at the venue: {{venueTime}}
`;

export const FIRST_EMAIL: EmailTarget = {
  ...{ host: "127.0.0.1", port: 4179, security: "none", user: "" },
  ...{ from: "plan-tester@localhost", to: ["me@localhost"], subject: "{{watch}}: {{event}}, {{text}}", body: BODY },
};

const JSON_HEADERS = [{ name: "Content-Type", value: "application/json" }];

/** Everything, for a program of one's own. */
const ALL_FIELDS = `{
  "watch": "{{watch}}",
  "plan": "{{plan}}",
  "instrument": "{{instrument}}",
  "event": "{{event}}",
  "level": "{{level}}",
  "text": "{{text}}",
  "by": "{{by}}",
  "venueTime": "{{venueTime}}",
  "time": "{{time}}"
}`;

export const FIRST_CALL: WebCallTarget = { url: "https://", method: "POST", headers: JSON_HEADERS, body: ALL_FIELDS };

export const CALL_PRESETS: readonly { readonly name: string; readonly part: Partial<WebCallTarget> }[] = [
  { name: "JSON with every field", part: { method: "POST", headers: JSON_HEADERS, body: ALL_FIELDS } },
  { name: "JSON for a chat", part: { method: "POST", headers: JSON_HEADERS, body: `{ "text": "{{watch}}: {{text}}" }` } },
  {
    name: "Plain text",
    part: {
      method: "POST",
      headers: [{ name: "Content-Type", value: "text/plain; charset=utf-8" }],
      body: "{{watch}} {{event}}: {{text}}",
    },
  },
];
