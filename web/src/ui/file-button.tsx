import { FolderOpen } from "lucide-react";
import { useRef } from "react";
import { Button } from "./button.tsx";

/** Chooses a JSON file and hands it on. */
export function FileButton({ label, onFile }: { readonly label: string; readonly onFile: (file: File) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>
        <FolderOpen size={14} aria-hidden /> {label}
      </Button>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
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
