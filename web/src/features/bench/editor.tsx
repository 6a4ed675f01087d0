/** The source of a plan. Types and completion come from the language's own types; the server adds what only it can see. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { queries } from "../../data/queries.ts";
import { useTheme } from "../../lib/theme.ts";
import { Loading } from "../../ui/states.tsx";
import type { SourceProblem } from "../inputs/source-problem.ts";
import type { LineMarks } from "./line-marks.ts";
import { useLineDecorations } from "./use-line-decorations.ts";
import type { Reveal } from "./use-reveal.ts";

type MonacoModule = typeof import("../../editor/monaco.ts");
type Monaco = MonacoModule["monaco"];
type CodeEditor = ReturnType<Monaco["editor"]["create"]>;

export interface EditorProps {
  /** The text to begin with. From then on the editor owns its text, and a new value is taken only with a new edition. */
  readonly value: string;
  readonly edition?: number | string;
  readonly readOnly?: boolean;
  readonly problem: SourceProblem | null;
  readonly reveal?: Reveal | null;
  /** Line evidence to show in the gutter and behind the lines; null for none. */
  readonly marks?: LineMarks | null;
  readonly onChange?: (value: string) => void;
  readonly onRun?: () => void;
  /** The trades of a line are wanted: a click on its number while line evidence is shown, or Alt+L. */
  readonly onLineTrades?: (line: number) => void;
}

let loading: Promise<MonacoModule> | null = null;
const load = (): Promise<MonacoModule> => {
  loading ??= import("../../editor/monaco.ts");
  return loading;
};

export function Editor({
  value,
  edition = 0,
  readOnly = false,
  problem,
  reveal,
  marks = null,
  onChange,
  onRun,
  onLineTrades,
}: EditorProps) {
  const host = useRef<HTMLDivElement>(null);
  const [ready, setReady] = useState<{ monaco: Monaco; editor: CodeEditor; provide: MonacoModule["setModules"] } | null>(null);
  const modules = useQuery(queries.modules()).data;
  const theme = useTheme();
  const handlers = useRef({ onChange, onRun, onLineTrades, hasMarks: marks !== null });
  handlers.current = { onChange, onRun, onLineTrades, hasMarks: marks !== null };
  const given = useRef({ value, readOnly, edition });
  given.current = { value, readOnly, edition };
  const shownEdition = useRef(edition);

  useEffect(() => {
    let editor: CodeEditor | null = null;
    let gone = false;
    void load().then(({ monaco, setModules: provide }) => {
      if (gone || !host.current) return;
      const uri = monaco.Uri.parse("file:///plan.ts");
      monaco.editor.getModel(uri)?.dispose();
      const model = monaco.editor.createModel(given.current.value, "typescript", uri);
      shownEdition.current = given.current.edition;
      editor = monaco.editor.create(host.current, {
        model,
        readOnly: given.current.readOnly,
        automaticLayout: true,
        fontFamily: "'JetBrains Mono Variable', monospace",
        fontLigatures: false,
        fontSize: 13,
        lineHeight: 20,
        // A line that is longer than the pane goes on below, under its own indent.
        wordWrap: "on",
        wrappingIndent: "indent",
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
      const made = editor;
      editor.addCommand(monaco.KeyMod.Alt | monaco.KeyCode.KeyL, () => {
        const line = made.getPosition()?.lineNumber;
        if (line) handlers.current.onLineTrades?.(line);
      });
      editor.onMouseDown(({ target }) => {
        const isNumber = target.type === monaco.editor.MouseTargetType.GUTTER_LINE_NUMBERS;
        if (isNumber && handlers.current.hasMarks && target.position) handlers.current.onLineTrades?.(target.position.lineNumber);
      });
      setReady({ monaco, editor, provide });
    });
    return () => {
      gone = true;
      editor?.getModel()?.dispose();
      editor?.dispose();
    };
  }, []);

  // What React shows lags behind what is typed: it must never be written back, or the caret jumps and keys are lost.
  useEffect(() => {
    const model = ready?.editor.getModel();
    if (!model || shownEdition.current === edition) return;
    shownEdition.current = edition;
    // As one edit, so that it can be undone.
    model.pushEditOperations([], [{ range: model.getFullModelRange(), text: given.current.value }], () => null);
  }, [ready, edition]);

  useEffect(() => ready?.editor.updateOptions({ readOnly }), [ready, readOnly]);

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

  useLineDecorations(ready, marks, onLineTrades);

  useEffect(() => {
    if (!ready || !reveal || reveal.line < 1) return;
    const { line, withFocus } = reveal;
    if (withFocus) {
      ready.editor.revealLineInCenter(line);
      ready.editor.setPosition({ lineNumber: line, column: 1 });
      ready.editor.focus();
      return;
    }
    // Beside the evidence: the line is marked, and the keyboard stays where it is.
    ready.editor.revealLineInCenterIfOutsideViewport(line);
    const mark = ready.editor.createDecorationsCollection([
      { range: new ready.monaco.Range(line, 1, line, 1), options: { isWholeLine: true, className: "line-now" } },
    ]);
    return () => mark.clear();
  }, [ready, reveal]);

  return (
    <div className="relative h-full min-h-0 bg-sheet">
      {ready ? null : <Loading what="the editor" />}
      <div ref={host} className="absolute inset-0" data-testid="editor" />
    </div>
  );
}
