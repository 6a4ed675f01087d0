/** Ways by which alerts go out: each can be tried, switched off, changed, removed. */
import type { AlertChannel, AlertSetup } from "@plan-tester/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { td, tdText, th } from "../../ui/page.tsx";
import { ChannelDialog } from "./channel-dialog.tsx";
import { FIRST_CALL, FIRST_EMAIL } from "./first-channels.ts";
import { newId, put, type SetupPart } from "./use-setup.ts";

export interface ChannelsProps {
  readonly setup: AlertSetup;
  readonly withSecret: readonly string[];
  readonly onChange: (part: SetupPart) => Promise<boolean>;
  readonly onRemove: (part: SetupPart, what: string) => void;
}

function whereTo({ kind, email, call }: AlertChannel): string {
  if (email) return `${email.to.join(", ")} by ${email.host}:${email.port}`;
  if (call) return `${call.method} ${call.url}`;
  return kind === "screen" ? "a message on every open page" : "";
}

export function Channels({ setup, withSecret, onChange, onRemove }: ChannelsProps) {
  const { channels, rules } = setup;
  const [edited, setEdited] = useState<AlertChannel | null>(null);
  const testAlert = useChange("testAlert");
  const test = async ({ id, name }: AlertChannel): Promise<void> => {
    const done = await testAlert.run({ id });
    if (!done) return;
    const { state, outcome } = done.reply;
    if (state === "sent") toast.success(`${name} took the test: ${outcome}`);
    else toast.error(`${name} did not take the test: ${outcome}`, { duration: 15_000, closeButton: true });
  };
  const remove = ({ id, name }: AlertChannel): void =>
    onRemove(
      {
        channels: channels.filter((one) => one.id !== id),
        rules: rules.map((rule) => ({ ...rule, channels: rule.channels.filter((one) => one !== id) })),
      },
      withSecret.includes(id) ? `${name} and its secret` : name,
    );
  const add = (kind: "e-mail" | "web call"): void =>
    setEdited({
      ...{ id: newId(), name: kind === "e-mail" ? "Mail" : "Web call", isOn: true, kind },
      ...{ email: kind === "e-mail" ? FIRST_EMAIL : null, call: kind === "web call" ? FIRST_CALL : null },
    });
  return (
    <section aria-label="Channels" className="flex flex-col gap-2">
      <div className="flex items-center gap-3">
        <h2 className="flex-1 font-semibold">Channels</h2>
        <Button onClick={() => add("e-mail")}>Add an e-mail</Button>
        <Button onClick={() => add("web call")}>Add a web call</Button>
      </div>
      <table className="w-full">
        <thead>
          <tr>
            <th className={th}>On</th>
            <th className={th}>Name</th>
            <th className={th}>Kind</th>
            <th className={`${th} w-full`}>Where to</th>
            <th className={th}>Secret</th>
            <th className={th}>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {channels.map((channel) => (
            <tr key={channel.id}>
              <td className={td}>
                <input
                  type="checkbox"
                  aria-label={`${channel.name} is on`}
                  checked={channel.isOn}
                  onChange={({ target }) => void onChange({ channels: put(channels, { ...channel, isOn: target.checked }) })}
                />
              </td>
              <td className={td}>{channel.name}</td>
              <td className={td}>{channel.kind}</td>
              <td className={`${tdText} break-all text-soft`}>{whereTo(channel)}</td>
              <td className={td}>{withSecret.includes(channel.id) ? <span title="Set, and shown to nobody">••••••</span> : "none"}</td>
              <td className={td}>
                <span className="flex justify-end">
                  <Button variant="quiet" disabled={testAlert.isRunning} onClick={() => void test(channel)}>
                    Send a test
                  </Button>
                  {channel.kind === "screen" ? null : (
                    <>
                      <Button variant="quiet" onClick={() => setEdited(channel)}>
                        Change
                      </Button>
                      <Button variant="quiet" onClick={() => remove(channel)}>
                        Remove
                      </Button>
                    </>
                  )}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {edited ? (
        <ChannelDialog
          channel={edited}
          hasSecret={withSecret.includes(edited.id)}
          onClose={() => setEdited(null)}
          onSave={(channel) => onChange({ channels: put(channels, channel) })}
        />
      ) : null}
    </section>
  );
}
