/** Monaco with only what plans need: TypeScript, its worker, and the plan language's own types. Loaded on first use. */
import * as monaco from "monaco-editor/editor/editor.api";
import "monaco-editor/features/register.all";
import "monaco-editor/languages/definitions/typescript/register";
import language from "@plan-tester/core/language.d.ts?raw";
import studies from "@plan-tester/core/studies.d.ts?raw";
import EditorWorker from "monaco-editor/editor/editor.worker?worker";
import TypeScriptWorker from "monaco-editor/language/typescript/ts.worker?worker";
import * as typescript from "monaco-editor/languages/features/typescript/register";
import { inPlanWords } from "./mistakes.ts";
import { editorText, SNIPPETS } from "./snippets.ts";

self.MonacoEnvironment = {
  getWorker: (_id, label) => (label === "typescript" || label === "javascript" ? new TypeScriptWorker() : new EditorWorker()),
};

const { typescriptDefaults, ScriptTarget, ModuleKind, ModuleResolutionKind } = typescript;
typescriptDefaults.setCompilerOptions({
  target: ScriptTarget.ES2020,
  lib: ["es2022"],
  module: ModuleKind.ESNext,
  moduleResolution: ModuleResolutionKind.NodeJs,
  strict: true,
  noEmit: true,
  allowNonTsExtensions: true,
});
typescriptDefaults.setEagerModelSync(true);
setModules([]);

function defineTheme(
  name: string,
  base: "vs" | "vs-dark",
  colors: Record<"background" | "ink" | "soft" | "rule" | "accent" | "string" | "number" | "keyword" | "line" | "selection", string>,
): void {
  monaco.editor.defineTheme(name, {
    base,
    inherit: true,
    rules: [
      { token: "", foreground: colors.ink.slice(1) },
      { token: "comment", foreground: colors.soft.slice(1), fontStyle: "italic" },
      { token: "string", foreground: colors.string.slice(1) },
      { token: "number", foreground: colors.number.slice(1) },
      { token: "keyword", foreground: colors.keyword.slice(1) },
    ],
    colors: {
      "editor.background": colors.background,
      "editor.foreground": colors.ink,
      "editorLineNumber.foreground": colors.soft,
      "editorLineNumber.activeForeground": colors.ink,
      "editor.lineHighlightBackground": colors.line,
      "editor.lineHighlightBorder": "#00000000",
      "editor.selectionBackground": colors.selection,
      "editorIndentGuide.background1": colors.rule,
      "editorWidget.border": colors.rule,
      focusBorder: colors.accent,
    },
  });
}

defineTheme("paper", "vs", {
  background: "#fbf9f4",
  ink: "#1c2530",
  soft: "#6d7580",
  rule: "#e4dfd2",
  accent: "#2f4f86",
  string: "#0b716b",
  number: "#a84813",
  keyword: "#2f4f86",
  line: "#f1ede3",
  selection: "#cfd9ea",
});
defineTheme("night", "vs-dark", {
  background: "#18202a",
  ink: "#e4e1d8",
  soft: "#8a94a0",
  rule: "#2c3743",
  accent: "#8db0ea",
  string: "#52c2b9",
  number: "#f09a62",
  keyword: "#8db0ea",
  line: "#1e2833",
  selection: "#2c405f",
});

// Pieces of plans, among the completions of a plan's text.
monaco.languages.registerCompletionItemProvider("typescript", {
  provideCompletionItems(model, position) {
    const { startColumn, endColumn } = model.getWordUntilPosition(position);
    const range = new monaco.Range(position.lineNumber, startColumn, position.lineNumber, endColumn);
    return {
      suggestions: SNIPPETS.map((snippet) => ({
        label: snippet.label,
        detail: snippet.detail,
        range,
        kind: monaco.languages.CompletionItemKind.Snippet,
        insertText: editorText(snippet),
        insertTextRules: monaco.languages.CompletionItemInsertTextRule.InsertAsSnippet,
        // Behind the words of the language.
        sortText: `~${snippet.label}`,
      })),
    };
  },
});

/** Under this name the checker of types keeps what it has found. */
const CHECKER = "typescript";

// What is found wrong in a plan is said in the plan's words.
monaco.editor.onDidChangeMarkers((resources) => {
  for (const resource of resources) {
    const model = monaco.editor.getModel(resource);
    if (!model) continue;
    const found = monaco.editor.getModelMarkers({ owner: CHECKER, resource });
    const said = found.map((marker) => {
      const { code = "" } = marker;
      return { ...marker, message: inPlanWords(typeof code === "string" ? code : code.value, marker.message) };
    });
    if (said.some(({ message }, i) => message !== found[i]!.message)) monaco.editor.setModelMarkers(model, CHECKER, said);
  }
});

/** The workspace's modules, so that a plan's imports have types. */
export function setModules(modules: readonly { readonly name: string; readonly source: string }[]): void {
  typescriptDefaults.setExtraLibs([
    { content: language, filePath: "file:///plan-language.d.ts" },
    { content: studies, filePath: "file:///plan-studies.d.ts" },
    ...modules.map(({ name, source }) => ({ content: source, filePath: `file:///node_modules/${name}/index.ts` })),
  ]);
}

export { monaco };
