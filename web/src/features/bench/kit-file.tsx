/** Exit kits as files: load one, or save this one. */
import type { ExitKit } from "@plan-tester/core";
import { useRef } from "react";
import { useChange } from "../../data/use-change.ts";
import { readJson } from "../../lib/read-json.ts";
import { Button } from "../../ui/button.tsx";

export function KitFile({ kit, onLoad }: { readonly kit: ExitKit | null; readonly onLoad: (kit: ExitKit) => void }) {
  const picker = useRef<HTMLInputElement>(null);
  const readKit = useChange("readKit");
  const load = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    const content = await readJson<ExitKit>(file);
    const read = content && (await readKit.run({}, content));
    if (read) onLoad(read.reply);
  };
  const save = (): void => {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([`${JSON.stringify(kit, null, 2)}\n`], { type: "application/json" }));
    link.download = `${kit?.name || "exit kit"}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept=".json"
        className="hidden"
        aria-label="Exit kit file"
        onChange={({ target }) => {
          void load(target.files?.[0]);
          target.value = "";
        }}
      />
      <Button onClick={() => picker.current?.click()}>Load</Button>
      {kit ? <Button onClick={save}>Save</Button> : null}
    </>
  );
}
