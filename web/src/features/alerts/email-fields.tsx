import { type EmailTarget, emailSchema } from "@plan-tester/contract";
import { boundsOf } from "../../lib/read-number.ts";
import { Field, inputClass, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

const SECURITY: readonly (readonly [EmailTarget["security"], string])[] = [
  ["tls", "TLS from the start (465)"],
  ["starttls", "STARTTLS, must be given (587)"],
  ["none", "none, for a server on this machine"],
];

export interface EmailFieldsProps {
  readonly email: EmailTarget;
  readonly onChange: (part: Partial<EmailTarget>) => void;
}

export function EmailFields({ email, onChange }: EmailFieldsProps) {
  const { host, port, security, user, from, to, subject, body } = email;
  return (
    <>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <Field label="SMTP server">
          {(id) => <TextInput id={id} required value={host} onChange={({ target }) => onChange({ host: target.value.trim() })} />}
        </Field>
        <NumberField
          label="Port"
          whole
          {...boundsOf(emailSchema.properties.port)}
          value={port}
          onChange={(next) => onChange({ port: next })}
        />
        <Field label="Encryption">
          {(id) => (
            <Select id={id} value={security} onChange={({ target }) => onChange({ security: target.value as EmailTarget["security"] })}>
              {SECURITY.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="User">
          {(id) => <TextInput id={id} placeholder="none" value={user} onChange={({ target }) => onChange({ user: target.value })} />}
        </Field>
        <Field label="From" className="col-span-2">
          {(id) => <TextInput id={id} required value={from} onChange={({ target }) => onChange({ from: target.value.trim() })} />}
        </Field>
        <Field label="To" hint="Several with commas between." className="col-span-2">
          {(id) => (
            <TextInput
              id={id}
              required
              value={to.join(", ")}
              onChange={({ target }) => onChange({ to: target.value.split(/,\s*/) })}
              onBlur={() => onChange({ to: to.map((one) => one.trim()).filter((one) => one !== "") })}
            />
          )}
        </Field>
      </div>
      <Field label="Subject">
        {(id) => <TextInput id={id} required value={subject} onChange={({ target }) => onChange({ subject: target.value })} />}
      </Field>
      <Field label="Text">
        {(id) => (
          <textarea
            id={id}
            required
            className={`${inputClass} h-36 py-1 font-mono text-[13px]`}
            value={body}
            onChange={({ target }) => onChange({ body: target.value })}
          />
        )}
      </Field>
    </>
  );
}
