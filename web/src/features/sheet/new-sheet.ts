import { textOfSheet } from "@plan-tester/contract";
import { emptySheet } from "@plan-tester/core";

/** The text of a plan by a sheet that says nothing yet. */
export const newSheetText = (): string => textOfSheet(emptySheet("New rule sheet"));
