/** A plan is called what its program declares: to rename it is to change that text. */
import { sheetOf, textOfSheet } from "@plan-tester/contract";

const DECLARATION = /\bplan\s*\(\s*\{/;
/** The first field `title` after that; whoever changes it looks at what the program then declares. */
const TITLE = /\btitle\s*:\s*("(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|`(?:[^`\\$]|\\.)*`)?/;
/** Where a title may be looked for, characters: a program declares it at its head. */
const HEAD = 20_000;

/** The program with another text for its title; as it is where its title is no plain text near its head. A sheet writes its own anew. */
export function renamed(source: string, title: string): string {
  const sheet = sheetOf(source);
  if (sheet) return textOfSheet({ ...sheet, title });
  const head = source.slice(0, HEAD);
  const declared = DECLARATION.exec(head);
  if (!declared) return source;
  const from = declared.index + declared[0].length;
  const found = TITLE.exec(head.slice(from));
  const text = found?.[1];
  if (!text) return source;
  const end = from + found.index + found[0].length;
  return head.slice(0, end - text.length) + JSON.stringify(title) + source.slice(end);
}
