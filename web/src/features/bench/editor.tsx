/** The source of a plan. Types and completion come from the language's own types; the server adds what only it can see. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { queries } from "../../lib/queries.ts";
import { useTheme } from "../../lib/theme.ts";
import { Loading } from "../../ui/states.tsx";
import type { LineMarks } from "./line-marks.ts";
import { useLineDecorations } from "./use-line-decorations.ts";

type MonacoModule = typeof import("./monaco.ts");
type Monaco = MonacoModule["monaco"];
type CodeEditor = ReturnType<Monaco["editor"]["create"]>;

export interface SourceProblem {
  readonly line: number;
  readonly column: number;
  readonly message: string;
}

export interface EditorProps {
  readonly value: string;
  readonly readOnly?: boolean;
  readonly problem: SourceProblem | null;
  /** A line to show, and a number that changes each time it should be shown again. */
  readonly reveal?: { readonly line: number; readonly turn: number } | null;
  /** Line evidence to show in the gutter and behind the lines; null for none. */
  readonly marks?: LineMarks | null;
  readonly onChange?: (value: string) => void;
  readonly onRun?: () => void;
}

let loading: Promise<MonacoModule> | null = null;
const load = (): Promise<MonacoModule> => {
  loading ??= import("./monaco.ts");
  return loading;
};

export function Editor({ value, readOnly = false, problem, reveal, marks = null, onChange, onRun }: EditorProps) {
  const host = useRef<HTMLDivElement>(null);
  const [ready, setReady] = useState<{ monaco: Monaco; editor: CodeEditor; provide: MonacoModule["setModules"] } | null>(null);
  const modules = useQuery(queries.modules()).data;
  const theme = useTheme();
  const handlers = useRef({ onChange, onRun });
  handlers.current = { onChange, onRun };
  const first = useRef({ value, readOnly });

  useEffect(() => {
    let editor: CodeEditor | null = null;
    let gone = false;
    void load().then(({ monaco, setModules: provide }) => {
      if (gone || !host.current) return;
      const uri = monaco.Uri.parse("file:///plan.ts");
      monaco.editor.getModel(uri)?.dispose();
      const model = monaco.editor.createModel(first.current.value, "typescript", uri);
      editor = monaco.editor.create(host.current, {
        model,
        readOnly: first.current.readOnly,
        automaticLayout: true,
        fontFamily: "'JetBrains Mono Variable', monospace",
        fontLigatures: false,
        fontSize: 13,
        lineHeight: 20,
        minimap: { enabled: false },
        scrollBeyondLastLine: false,
        renderLineHighlight: "line",
        lineNumbersMinChars: 3,
        glyphMargin: false,
        folding: false,
        padding: { top: 6, bottom: 6 },
        overviewRulerLanes: 0,
        bracketPairColorization: { enabled: false },
        scrollbar: { verticalScrollbarSize: 8, horizontalScrollbarSize: 8 },
        tabSize: 2,
        fixedOverflowWidgets: true,
        ariaLabel: "Source of the plan",
      });
      model.onDidChangeContent(() => handlers.current.onChange?.(model.getValue()));
      editor.addCommand(monaco.KeyMod.CtrlCmd | monaco.KeyCode.Enter, () => handlers.current.onRun?.());
      setReady({ monaco, editor, provide });
    });
    return () => {
      gone = true;
      editor?.getModel()?.dispose();
      editor?.dispose();
    };
  }, []);

  useEffect(() => {
    if (!ready) return;
    const model = ready.editor.getModel();
    if (model && model.getValue() !== value) model.setValue(value);
    ready.editor.updateOptions({ readOnly });
  }, [ready, value, readOnly]);

  useEffect(() => ready?.monaco.editor.setTheme(theme), [ready, theme]);

  useEffect(() => {
    if (ready && modules) ready.provide(modules);
  }, [ready, modules]);

  useEffect(() => {
    const model = ready?.editor.getModel();
    if (!ready || !model) return;
    const markers = problem
      ? [
          {
            severity: ready.monaco.MarkerSeverity.Error,
            message: problem.message,
            startLineNumber: problem.line,
            startColumn: problem.column,
            endLineNumber: problem.line,
            endColumn: Math.max(problem.column + 1, model.getLineMaxColumn(Math.min(problem.line, model.getLineCount()))),
          },
        ]
      : [];
    ready.monaco.editor.setModelMarkers(model, "plan", markers);
  }, [ready, problem]);

  useLineDecorations(ready, marks);

  useEffect(() => {
    if (!ready || !reveal || reveal.line < 1) return;
    ready.editor.revealLineInCenter(reveal.line);
    ready.editor.setPosition({ lineNumber: reveal.line, column: 1 });
    ready.editor.focus();
  }, [ready, reveal]);

  return (
    <div className="relative h-full min-h-0 bg-sheet">
      {ready ? null : <Loading what="the editor" />}
      <div ref={host} className="absolute inset-0" data-testid="editor" />
    </div>
  );
}
