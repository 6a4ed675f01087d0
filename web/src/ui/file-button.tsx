import { FolderOpen } from "lucide-react";
import { useRef } from "react";
import { Button } from "./button.tsx";

export interface FileButtonProps {
  readonly label: string;
  readonly onFile: (file: File) => void;
  /** As of an input; JSON where it is left out. */
  readonly accept?: string;
}

/** Chooses a file and hands it on. */
export function FileButton({ label, onFile, accept = "application/json,.json" }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>
        <FolderOpen size={14} aria-hidden /> {label}
      </Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={label}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) onFile(file);
        }}
      />
    </>
  );
}
