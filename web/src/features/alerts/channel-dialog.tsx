/** One channel: where to, with which text, and what it would send for the last event. */
import { type AlertChannel, TEMPLATE_FIELDS } from "@plan-tester/contract";
import { useState } from "react";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { Failure } from "../../ui/states.tsx";
import { CallFields } from "./call-fields.tsx";
import { EmailFields } from "./email-fields.tsx";

export interface ChannelDialogProps {
  readonly channel: AlertChannel;
  readonly hasSecret: boolean;
  readonly onClose: () => void;
  readonly onSave: (channel: AlertChannel) => Promise<boolean>;
}

export function ChannelDialog({ channel: first, hasSecret, onClose, onSave }: ChannelDialogProps) {
  const [channel, setChannel] = useState(first);
  /** null while nobody has touched it: it stays as it is. */
  const [secret, setSecret] = useState<string | null>(null);
  const setAlertSecret = useChange("setAlertSecret");
  const preview = useChange("previewAlert", { shows: true });
  const { name, email, call } = channel;
  const change = (part: Partial<AlertChannel>): void => {
    setChannel({ ...channel, ...part });
    preview.forget();
  };
  const save = async (): Promise<void> => {
    if (!(await onSave({ ...channel, name: name.trim() }))) return;
    if (secret !== null && !(await setAlertSecret.run({ id: channel.id }, { secret }))) return;
    onClose();
  };
  return (
    <Modal
      size="wide"
      title={`${first.kind === "e-mail" ? "E-mail" : "Web call"}: ${first.name}`}
      description={`Texts may name ${TEMPLATE_FIELDS.map((field) => `{{${field}}}`).join(", ")}.`}
      onClose={onClose}
    >
      <CheckedForm onSubmit={() => void save()} className="flex flex-col gap-3">
        <Field label="Name of the channel">
          {(id) => <TextInput id={id} required value={name} maxLength={80} onChange={({ target }) => change({ name: target.value })} />}
        </Field>
        {email ? <EmailFields email={email} onChange={(part) => change({ email: { ...email, ...part } })} /> : null}
        {call ? <CallFields call={call} onChange={(part) => change({ call: { ...call, ...part } })} /> : null}
        <Field
          label={email ? "Password" : "Secret of the signature"}
          hint={
            email
              ? "Empty where the server asks for none. It is kept apart from the settings and shown to nobody."
              : "With a secret each call carries X-Plan-Tester-Time and X-Plan-Tester-Signature: the HMAC with SHA-256 of the time, a point and the body."
          }
        >
          {(id) => (
            <TextInput
              id={id}
              type="password"
              autoComplete="new-password"
              maxLength={1000}
              placeholder={hasSecret ? "•••••• (unchanged)" : "none"}
              value={secret ?? ""}
              onChange={({ target }) => setSecret(target.value)}
            />
          )}
        </Field>
        {hasSecret ? (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={secret === ""} onChange={({ target }) => setSecret(target.checked ? "" : null)} />
            Remove the one that is kept
          </label>
        ) : null}
        {preview.error ? <Failure error={preview.error} /> : null}
        {preview.reply ? <Preview {...preview.reply} /> : null}
        <div className="flex justify-end gap-2">
          <Button onClick={() => void preview.run({}, { channel })}>Preview</Button>
          <span className="flex-1" />
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" type="submit" disabled={setAlertSecret.isRunning}>
            Save the channel
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}

interface PreviewProps {
  readonly of: string;
  readonly isExample: boolean;
  readonly subject: string;
  readonly body: string;
  readonly headers: readonly { readonly name: string; readonly value: string }[];
}

function Preview({ of, isExample, subject, body, headers }: PreviewProps) {
  return (
    <section aria-label="Preview" className="rounded border border-rule bg-ground p-3">
      <p className="text-[13px] text-soft">
        {isExample ? "For an example, as nothing has happened yet: " : "For the last event: "}
        {of}
      </p>
      {subject ? <p className="mt-2 font-semibold">{subject}</p> : null}
      {headers.map(({ name, value }) => (
        <p key={name} className="font-mono text-[12px] text-soft">
          {name}: {value}
        </p>
      ))}
      <pre className="mt-2 whitespace-pre-wrap break-words font-mono text-[12px]">{body}</pre>
    </section>
  );
}
