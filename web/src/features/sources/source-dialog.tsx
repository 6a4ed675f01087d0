/** Says where new bars of an instrument come from. */
import type { SourceBody } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Failure } from "../../ui/states.tsx";

const FIRST: SourceBody = {
  ...{ name: "", kind: "folder", place: "", symbol: "", everyMinutes: 60, overlap: "keep", allowsPrivate: false },
};

export function SourceDialog({ onClose }: { readonly onClose: () => void }) {
  const markets = (useQuery(queries.markets()).data ?? []).filter(({ origin }) => origin === "import");
  const [given, setGiven] = useState<SourceBody>(FIRST);
  const create = useChange("createSource", { shows: true });
  const body = { ...given, symbol: given.symbol || (markets[0]?.instrument.symbol ?? "") };
  const set = (part: Partial<SourceBody>): void => setGiven({ ...given, ...part });
  const save = async (): Promise<void> => {
    if (await create.run({}, { ...body, name: body.name.trim(), place: body.place.trim() })) onClose();
  };
  if (markets.length === 0)
    return (
      <Modal title="Add a source" onClose={onClose}>
        <p>Import one file of an instrument of your own first: how its files are read is taken from there.</p>
      </Modal>
    );
  return (
    <Modal title="Add a source" onClose={onClose}>
      <CheckedForm className="flex flex-col gap-3" onSubmit={() => void save()}>
        {create.error ? <Failure error={create.error} /> : null}
        <Field label="Name">
          {(id) => <TextInput id={id} autoFocus maxLength={60} value={body.name} onChange={({ target }) => set({ name: target.value })} />}
        </Field>
        <Field label="Brings bars of">
          {(id) => (
            <Select id={id} value={body.symbol} onChange={({ target }) => set({ symbol: target.value })}>
              {markets.map(({ instrument: { symbol } }) => (
                <option key={symbol}>{symbol}</option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="From">
          {(id) => (
            <Select id={id} value={body.kind} onChange={({ target }) => set({ kind: target.value as SourceBody["kind"] })}>
              <option value="folder">the files of a folder</option>
              <option value="web">an address</option>
            </Select>
          )}
        </Field>
        <Field label={body.kind === "folder" ? "Path of the folder" : "Address; {date} is a day, {symbol} the instrument"}>
          {(id) => (
            <TextInput
              id={id}
              maxLength={1000}
              placeholder={body.kind === "folder" ? "/home/me/bars" : "https://…/{symbol}/{date}.csv"}
              value={body.place}
              onChange={({ target }) => set({ place: target.value })}
            />
          )}
        </Field>
        {body.kind === "web" ? (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={body.allowsPrivate} onChange={({ target }) => set({ allowsPrivate: target.checked })} />
            It may be on this machine or a private network
          </label>
        ) : null}
        <NumberField
          label="Looked at every so many minutes"
          value={body.everyMinutes}
          {...{ min: 1, max: 10_080, whole: true }}
          onChange={(everyMinutes) => set({ everyMinutes })}
        />
        <Field label="Bars that are there already with other values">
          {(id) => (
            <Select id={id} value={body.overlap} onChange={({ target }) => set({ overlap: target.value as SourceBody["overlap"] })}>
              <option value="keep">stay as they are</option>
              <option value="replace">give way to those that come</option>
            </Select>
          )}
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="primary" disabled={body.name.trim() === "" || body.place.trim() === ""}>
            Add
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}
