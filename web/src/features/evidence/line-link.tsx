/** A line of the plan's source, as a way to it; nothing where the line is not known. */

export function LineLink({ line, onLine }: { readonly line: number; readonly onLine: (line: number) => void }) {
  if (line <= 0) return null;
  return (
    <button
      type="button"
      className="rounded-xs underline decoration-dotted underline-offset-3"
      aria-label={`Show line ${line}`}
      onClick={(event) => {
        // The row around it has a click of its own.
        event.stopPropagation();
        onLine(line);
      }}
    >
      {line}
    </button>
  );
}
