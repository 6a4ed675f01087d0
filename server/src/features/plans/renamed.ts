/** A plan is called what its program declares: to rename it is to change that text. */

/** The title of the declaration: the first field of that name after `plan({`. */
const TITLE = /(\bplan\s*\(\s*\{[\s\S]*?\btitle\s*:\s*)("(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|`(?:[^`\\$]|\\.)*`)/;
/** Where a title may be looked for, characters: a program declares it at its head. */
const HEAD = 20_000;

/** The program with another title; null where its title is no plain text near its head. */
export function renamed(source: string, title: string): string | null {
  const head = source.slice(0, HEAD);
  const found = TITLE.exec(head);
  if (!found) return null;
  const [whole, before] = found;
  return head.slice(0, found.index) + before! + JSON.stringify(title) + head.slice(found.index + whole.length) + source.slice(HEAD);
}
