/** Says in which zone moments are shown on every page, and changes it. */
import { useState } from "react";
import { useCommands } from "../lib/commands.ts";
import { HERE } from "../lib/format.ts";
import { chooseZone, OF_EXCHANGE, useChosenZone } from "../lib/shown-zone.ts";
import { ZONES } from "../lib/zones.ts";
import { Field, Select } from "../ui/field.tsx";
import { Popover } from "../ui/popover.tsx";

export function ZoneSwitch() {
  const zone = useChosenZone();
  const [isOpen, setOpen] = useState(false);
  useCommands([
    { id: "zone exchange", label: "Show times as each exchange has them", act: () => chooseZone(OF_EXCHANGE) },
    { id: "zone utc", label: "Show all times in UTC", act: () => chooseZone("UTC") },
    { id: "zone here", label: `Show all times as here, in ${HERE}`, act: () => chooseZone(HERE) },
    { id: "zone", label: "Show all times in another zone …", act: () => setOpen(true) },
  ]);
  return (
    <Popover
      align="end"
      className="w-72"
      label="In which zone times are shown"
      open={isOpen}
      onOpen={setOpen}
      trigger={
        <button type="button" className={zone ? "font-semibold text-accent" : "text-soft hover:text-ink max-[1000px]:hidden"}>
          {zone || "Exchange time"}
        </button>
      }
    >
      <Field label="Moments are shown" hint="Sessions, hours of trade, files and what a plan reads stay those of the exchange.">
        {(id) => (
          <Select id={id} value={zone} onChange={({ target }) => chooseZone(target.value)}>
            <option value={OF_EXCHANGE}>as each exchange has them</option>
            {[...new Set([HERE, ...ZONES])].map((name) => (
              <option key={name} value={name}>
                in {name}
              </option>
            ))}
          </Select>
        )}
      </Field>
    </Popover>
  );
}
