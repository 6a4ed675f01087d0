/** Two texts side by side with their differences. */
import { withoutSheet } from "@plan-tester/contract";
import { useEffect, useRef } from "react";
import { useTheme } from "../../lib/theme.ts";

export function DiffView({ before, after, className }: { readonly before: string; readonly after: string; readonly className?: string }) {
  const host = useRef<HTMLDivElement>(null);
  const theme = useTheme();
  useEffect(() => {
    let gone = false;
    let dispose = (): void => undefined;
    void import("../../editor/monaco.ts").then(({ monaco }) => {
      if (gone || !host.current) return;
      // A rule sheet's own line is data: what it says is in the program above it.
      const [original, modified] = [before, after].map((text) => monaco.editor.createModel(withoutSheet(text), "typescript")) as [
        ReturnType<typeof monaco.editor.createModel>,
        ReturnType<typeof monaco.editor.createModel>,
      ];
      monaco.editor.setTheme(theme);
      const editor = monaco.editor.createDiffEditor(host.current, {
        readOnly: true,
        originalEditable: false,
        automaticLayout: true,
        fontFamily: "'JetBrains Mono Variable', monospace",
        fontSize: 12,
        minimap: { enabled: false },
        scrollBeyondLastLine: false,
        renderOverviewRuler: false,
        hideUnchangedRegions: { enabled: true },
      });
      editor.setModel({ original, modified });
      dispose = () => {
        editor.dispose();
        original.dispose();
        modified.dispose();
      };
    });
    return () => {
      gone = true;
      dispose();
    };
  }, [before, after, theme]);
  return <div ref={host} className={className} role="region" aria-label="Differences of two texts" />;
}
