/** Shows line evidence in the editor: counts before the line numbers, what never ran dimmed, orders and their net under a line. */
import { useEffect, useRef } from "react";
import { type LineMarks, shortCount } from "./line-marks.ts";

type Monaco = typeof import("../../editor/monaco.ts").monaco;

export interface ReadyEditor {
  readonly monaco: Monaco;
  readonly editor: ReturnType<Monaco["editor"]["create"]>;
}

const GUTTER = 5;

/** @param onLineTrades the trades of a line are wanted. */
export function useLineDecorations(ready: ReadyEditor | null, marks: LineMarks | null, onLineTrades?: (line: number) => void): void {
  const latest = useRef(onLineTrades);
  latest.current = onLineTrades;
  useEffect(() => {
    const model = ready?.editor.getModel();
    if (!ready || !model) return;
    const { editor, monaco } = ready;
    if (!marks) {
      editor.updateOptions({ lineNumbers: "on", lineNumbersMinChars: 3 });
      return;
    }
    const counts = new Map(marks.lines.map(({ line, count }) => [line, count]));
    editor.updateOptions({
      lineNumbers: (line) => {
        const count = counts.get(line);
        return `${typeof count === "number" ? shortCount(count) : ""}${"\u00a0".repeat(2)}${String(line).padStart(3, "\u00a0")}`;
      },
      lineNumbersMinChars: 3 + GUTTER + 1,
    });
    const decorations = editor.createDecorationsCollection(
      marks.dead.map(({ line, column, endLine, endColumn }) => ({
        range: model.validateRange(new monaco.Range(line, column, endLine, endColumn)),
        options: { inlineClassName: "line-never-ran", hoverMessage: { value: "This never ran." } },
      })),
    );
    // Orders stand under their line: behind a long one nobody would see them.
    const zones: string[] = [];
    editor.changeViewZones((accessor) => {
      for (const { line, text } of marks.lines) {
        if (text === "" || line > model.getLineCount()) continue;
        const domNode = document.createElement("div");
        domNode.className = "line-orders";
        domNode.title = "Show its trades (Alt+L)";
        // The editor keeps clicks on a zone to itself unless it is heard first.
        domNode.addEventListener("mousedown", () => latest.current?.(line));
        domNode.textContent = `${" ".repeat(Math.max(0, model.getLineFirstNonWhitespaceColumn(line) - 1))}${text}`;
        zones.push(accessor.addZone({ afterLineNumber: line, heightInPx: 17, domNode }));
      }
    });
    return () => {
      decorations.clear();
      editor.changeViewZones((accessor) => {
        for (const zone of zones) accessor.removeZone(zone);
      });
    };
  }, [ready, marks]);
}
