import { toast } from "sonner";
import { count } from "../../lib/format.ts";
import { gridText } from "./grid-text.ts";
import type { Grid, GridId } from "./use-grid.ts";

/** Puts rows on the clipboard, with tabs between their cells. */
export function copyRows<Row, Id extends GridId>(grid: Grid<Row, Id>, rows: readonly Row[]): void {
  navigator.clipboard.writeText(gridText(grid, "tsv", rows)).then(
    () => toast(`${count(rows.length, "row")} copied, as the list shows them`),
    () => toast.error("The browser did not let the rows be copied. Save them as CSV instead."),
  );
}
