import { Button } from "./button.tsx";
import { Popover } from "./popover.tsx";

export interface ColumnChooserProps {
  readonly columns: readonly { readonly key: string; readonly name: string }[];
  readonly hidden: readonly string[];
  readonly onHidden: (hidden: readonly string[]) => void;
  readonly align?: "start" | "end";
}

/** Which columns of a list are shown. */
export function ColumnChooser({ columns, hidden, onHidden, align = "start" }: ColumnChooserProps) {
  return (
    <Popover align={align} trigger={<Button>Columns</Button>} label="Columns of the list">
      <div className="grid grid-cols-2 gap-x-4 gap-y-1">
        {columns.map(({ key, name }) => (
          <label key={key} className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={!hidden.includes(key)}
              onChange={(event) => onHidden(event.target.checked ? hidden.filter((other) => other !== key) : [...hidden, key])}
            />
            {name}
          </label>
        ))}
      </div>
    </Popover>
  );
}
