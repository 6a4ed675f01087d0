/**
 * Where a plan's script is made to report on itself, for line evidence, condition strips and the stepper: every statement
 * counts itself, every named value is shown to `__see`, every test to `__test`. All hand their value through unchanged.
 */

/** Where something stands in the source; lines and columns from 1, the end not included. */
export interface SourcePlace {
  readonly line: number;
  readonly column: number;
  readonly endLine: number;
  readonly endColumn: number;
}

/** A name that the plan gives to a value, at one place. */
export interface NamedPlace extends SourcePlace {
  readonly name: string;
}

/** A yes or no that decides which way a plan goes on: one part of a test, joined by no `&&` or `||`. */
export interface TestPlace extends SourcePlace {
  readonly text: string;
}

export interface TracePlaces {
  readonly statements: readonly SourcePlace[];
  readonly names: readonly NamedPlace[];
  readonly tests: readonly TestPlace[];
}

export interface Spanned {
  readonly type: string;
  readonly start: number;
  readonly end: number;
}

/** A node of the syntax tree, as far as it is looked into. */
interface Node extends Spanned {
  /** Of a block or program a list, of a function one node. */
  readonly body?: Spanned | readonly Spanned[];
  /** Of a branch a node, of a case a list. */
  readonly consequent?: Spanned | readonly Spanned[];
  readonly alternate?: Spanned | null;
  readonly expression?: Spanned | boolean;
  readonly test?: Spanned | null;
  readonly left?: Spanned;
  readonly right?: Spanned;
  readonly operator?: string;
  readonly argument?: Spanned;
  readonly declarations?: readonly (Spanned & { readonly id: Node; readonly init: Spanned | null })[];
  readonly name?: string;
  readonly properties?: readonly (Spanned & { readonly value?: Node })[];
  readonly elements?: readonly (Node | null)[];
  readonly callee?: Node;
  readonly arguments?: readonly Spanned[];
}

/** Declarations that are hoisted run nowhere in particular. */
const HOISTED = new Set(["FunctionDeclaration", "ClassDeclaration"]);
const FUNCTIONS = new Set(["ArrowFunctionExpression", "FunctionExpression", "ClassExpression"]);
/** Calls whose first argument is a condition that the plan waits for. */
const WAITING = new Set(["when", "during"]);
const MOST_TEXT = 60;

/** A piece of the source as the name of what it makes. */
export function shortText(source: string): string {
  const text = source.replace(/\s+/g, " ");
  return text.length > MOST_TEXT ? `${text.slice(0, MOST_TEXT - 1)}…` : text;
}

/** Whether a call waits for a condition that is written out in it. */
export const waitsFor = (callee: { readonly type: string; readonly name?: string } | undefined, first: Spanned | undefined): boolean =>
  callee?.type === "Identifier" && WAITING.has(callee.name!) && first?.type === "CallExpression";

export interface Editing {
  readonly script: string;
  /** Length of the prologue that the script has before the source begins. */
  readonly head: number;
  placeOf(node: Spanned): SourcePlace;
  /** Inner nodes come first: what is put in later is around them. */
  insert(at: number, text: string): void;
  insertAfter(at: number, text: string): void;
}

/** Marks one node after the other; call `mark` for every node, inner ones first. */
export class TraceMarks {
  readonly statements: SourcePlace[] = [];
  readonly names: NamedPlace[] = [];
  readonly tests: TestPlace[] = [];
  readonly #edit: Editing;

  /** Only names to which a declaration gives a value, and conditions that are waited for. */
  readonly #isOfNames: boolean;

  constructor(edit: Editing, isOfNames: boolean) {
    this.#edit = edit;
    this.#isOfNames = isOfNames;
  }

  mark(given: Spanned): void {
    const node = given as Node;
    if (this.#isOfNames) {
      if (node.type === "VariableDeclaration") this.#markDeclaration(node);
      else if (node.type === "CallExpression") this.#markCall(node);
      return;
    }
    this.#markStatements(node);
    switch (node.type) {
      case "IfStatement":
      case "ConditionalExpression":
        return this.#markTest(node.test!);
      case "ExpressionStatement":
        return this.#markExpression(node.expression as Node);
      case "VariableDeclaration":
        return this.#markDeclaration(node);
      case "AssignmentExpression":
        if (node.left!.type === "Identifier") this.#see(node, (node.left as Node).name!);
        return;
      case "CallExpression":
        return this.#markCall(node);
    }
  }

  #text({ start, end }: Spanned): string {
    return shortText(this.#edit.script.slice(start, end));
  }

  #see(node: Spanned, name: string): void {
    this.names.push({ name, ...this.#edit.placeOf(node) });
    this.#edit.insert(node.start, `__see(${this.names.length - 1},(`);
    this.#edit.insertAfter(node.end, "))");
  }

  #markDeclaration({ declarations, start, end }: Node): void {
    const isStatement = this.#edit.script.slice(start, end).endsWith(";");
    for (const { id, init } of declarations ?? []) {
      if (!init || FUNCTIONS.has(init.type)) continue;
      if (id.type === "Identifier") this.#see(init, id.name!);
      // Case: several names at once. They are shown after the statement, where there is one.
      else if (isStatement && !this.#isOfNames)
        for (const part of namesIn(id)) {
          this.names.push({ name: part.name!, ...this.#edit.placeOf(part) });
          this.#edit.insertAfter(end, `__see(${this.names.length - 1},${part.name});`);
        }
    }
  }

  #markExpression(node: Node): void {
    // `n++;` has its new value only afterwards.
    if (node.type === "UpdateExpression" && node.argument?.type === "Identifier") {
      const { name } = node.argument as Node;
      this.names.push({ name: name!, ...this.#edit.placeOf(node) });
      this.#edit.insert(node.start, "(");
      this.#edit.insertAfter(node.end, `,__see(${this.names.length - 1},${name}))`);
    }
    if (node.type === "LogicalExpression") this.#markTest(node.left!);
  }

  #markTest(given: Spanned): void {
    const node = given as Node;
    if (node.type === "LogicalExpression" && node.operator !== "??") {
      this.#markTest(node.left!);
      this.#markTest(node.right!);
      return;
    }
    this.tests.push({ text: this.#text(node), ...this.#edit.placeOf(node) });
    this.#edit.insert(node.start, `__test(${this.tests.length - 1},(`);
    this.#edit.insertAfter(node.end, "))");
  }

  #markCall({ callee, arguments: given }: Node): void {
    const [first] = given ?? [];
    if (waitsFor(callee, first)) this.#see(first!, this.#text(first!));
  }

  /** Puts a counter in front of every statement of a node, and in front of branches and arrow functions without braces. */
  #markStatements(node: Node): void {
    const { head, insert, insertAfter } = this.#edit;
    const list = isList(node.body) ? node.body : isList(node.consequent) ? node.consequent : [];
    if (/^(Program|BlockStatement|SwitchCase)$/.test(node.type))
      for (const statement of list)
        if (statement.start >= head && !HOISTED.has(statement.type)) insert(statement.start, `${this.#hit(statement)};`);
    if (node.type === "IfStatement")
      for (const branch of [node.consequent, node.alternate])
        if (branch && !isList(branch) && branch.type !== "BlockStatement") {
          insert(branch.start, `{${this.#hit(branch)};`);
          insertAfter(branch.end, "}");
        }
    if (node.type === "ArrowFunctionExpression" && node.expression === true && node.body && !isList(node.body)) {
      insert(node.body.start, `(${this.#hit(node.body)},`);
      insertAfter(node.body.end, ")");
    }
  }

  #hit(node: Spanned): string {
    this.statements.push(this.#edit.placeOf(node));
    return `__hit(${this.statements.length - 1})`;
  }
}

const isList = (part: unknown): part is readonly Spanned[] => Array.isArray(part);

function namesIn(pattern: Node): Node[] {
  const parts = pattern.type === "ObjectPattern" ? pattern.properties?.map(({ value }) => value) : pattern.elements;
  return (parts ?? []).flatMap((part) => (part?.type === "Identifier" ? [part] : part?.properties || part?.elements ? namesIn(part) : []));
}
