import type { WebCallTarget } from "@plan-tester/contract";
import { Trash2 } from "lucide-react";
import { Button } from "../../ui/button.tsx";
import { Field, inputClass, Select, TextInput } from "../../ui/field.tsx";
import { CALL_PRESETS } from "./first-channels.ts";

export interface CallFieldsProps {
  readonly call: WebCallTarget;
  readonly onChange: (part: Partial<WebCallTarget>) => void;
}

export function CallFields({ call, onChange }: CallFieldsProps) {
  const { url, method, headers, body } = call;
  const setHeader = (at: number, part: Partial<WebCallTarget["headers"][number]>): void =>
    onChange({ headers: headers.map((header, k) => (k === at ? { ...header, ...part } : header)) });
  return (
    <>
      <div className="flex gap-3">
        <Field label="Method">
          {(id) => (
            <Select
              id={id}
              className="w-24"
              value={method}
              onChange={({ target }) => onChange({ method: target.value as WebCallTarget["method"] })}
            >
              {(["POST", "PUT", "GET"] as const).map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="Address" className="flex-1">
          {(id) => (
            <TextInput
              id={id}
              required
              type="url"
              pattern="https?://\S+"
              value={url}
              onChange={({ target }) => onChange({ url: target.value.trim() })}
            />
          )}
        </Field>
      </div>
      <fieldset className="flex flex-col gap-1">
        <legend className="text-[13px] text-soft">Headers</legend>
        {headers.map(({ name, value }, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a header's name is what is being written
          <div key={at} className="flex gap-2">
            <TextInput
              aria-label="Name of the header"
              required
              pattern="[A-Za-z0-9\-]+"
              className="w-48"
              value={name}
              onChange={({ target }) => setHeader(at, { name: target.value })}
            />
            <TextInput aria-label="Value of the header" value={value} onChange={({ target }) => setHeader(at, { value: target.value })} />
            <Button
              variant="quiet"
              aria-label={`Remove the header ${name}`}
              onClick={() => onChange({ headers: headers.filter((_, k) => k !== at) })}
            >
              <Trash2 size={14} aria-hidden />
            </Button>
          </div>
        ))}
        <Button
          className="self-start"
          disabled={headers.length >= 20}
          onClick={() => onChange({ headers: [...headers, { name: "", value: "" }] })}
        >
          Add a header
        </Button>
      </fieldset>
      {method === "GET" ? null : (
        <Field label="Body" hint="What is filled in keeps a JSON body JSON.">
          {(id) => (
            <textarea
              id={id}
              className={`${inputClass} h-44 py-1 font-mono text-[13px]`}
              value={body}
              onChange={({ target }) => onChange({ body: target.value })}
            />
          )}
        </Field>
      )}
      <div className="flex flex-wrap items-center gap-2 text-[13px] text-soft">
        Begin with
        {CALL_PRESETS.map(({ name, part }) => (
          <Button key={name} variant="quiet" onClick={() => onChange(part)}>
            {name}
          </Button>
        ))}
      </div>
    </>
  );
}
