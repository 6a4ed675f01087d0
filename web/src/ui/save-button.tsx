import { Download } from "lucide-react";
import { saveFile } from "../lib/files.ts";
import { Button } from "./button.tsx";

export interface SaveButtonProps {
  readonly label: string;
  /** Name of the file. */
  readonly name: string;
  /** Its text; made when it is asked for. */
  readonly make: () => string;
}

/** Saves something of a run as a CSV file. */
export function SaveButton({ label, name, make }: SaveButtonProps) {
  return (
    <Button variant="quiet" onClick={() => saveFile(name, make())}>
      <Download size={13} aria-hidden /> {label}
    </Button>
  );
}
