/** What is done with a list as a whole: its columns chosen and moved, its rows copied or saved. */
import { ChevronDown, ChevronUp, Columns3, Copy } from "lucide-react";
import { Button } from "../button.tsx";
import { Popover } from "../popover.tsx";
import { SaveButton } from "../save-button.tsx";
import { copyRows } from "./copy-rows.ts";
import { gridText } from "./grid-text.ts";
import type { Grid, GridId } from "./use-grid.ts";

export interface GridToolsProps<Row, Id extends GridId> {
  readonly grid: Grid<Row, Id>;
  /** Of the file that the rows as shown are saved in; without one something else saves them. */
  readonly file?: string;
}

export function GridTools<Row, Id extends GridId>({ grid, file }: GridToolsProps<Row, Id>) {
  return (
    <>
      <ColumnChooser grid={grid} />
      <Button variant="quiet" title="Copy the rows as the list shows them (Ctrl+C in the list)" onClick={() => copyRows(grid, grid.rows)}>
        <Copy size={13} aria-hidden /> Copy
      </Button>
      {file ? <SaveButton label="Save list" name={file} make={() => gridText(grid, "csv")} /> : null}
    </>
  );
}

/** Up in the choice is to the left in the list. */
const WAYS = [
  { by: -1, to: "left", Icon: ChevronUp },
  { by: 1, to: "right", Icon: ChevronDown },
] as const;

function ColumnChooser<Row, Id extends GridId>({ grid }: Pick<GridToolsProps<Row, Id>, "grid">) {
  const { movable, isHidden, setHidden, move, reset } = grid;
  return (
    <Popover
      align="end"
      trigger={
        <Button>
          <Columns3 size={13} aria-hidden /> Columns
        </Button>
      }
      label="Columns of the list"
      className="max-h-(--radix-popover-content-available-height) overflow-auto"
    >
      <ul>
        {movable.map(({ key, name, label }, i) => {
          const words = name ?? label;
          return (
            <li key={key} className="flex items-center gap-2">
              <label className="flex flex-1 items-center gap-2 pr-4">
                <input type="checkbox" checked={!isHidden(key)} onChange={(event) => setHidden(key, !event.target.checked)} />
                {words}
              </label>
              {WAYS.map(({ by, to, Icon }) => {
                const next = movable[i + by];
                return (
                  <Button
                    key={to}
                    variant="quiet"
                    className="h-6 px-1"
                    aria-label={`Move ${words} to the ${to}`}
                    disabled={!next}
                    onClick={() => next && move(key, next.key)}
                  >
                    <Icon size={13} aria-hidden />
                  </Button>
                );
              })}
            </li>
          );
        })}
      </ul>
      <Button className="mt-2" onClick={reset}>
        As at first
      </Button>
    </Popover>
  );
}
