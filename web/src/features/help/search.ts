/** Finds words in pages of Markdown, line by line, with the heading that each line stands under. */
export interface Found {
  readonly id: string;
  readonly name: string;
  readonly section: string;
  readonly line: string;
}

const MAX_FOUND = 60;

/** Lines that hold all words of the search, in any order and case; headings first. */
export function findIn(pages: readonly (readonly [id: string, name: string, text: string])[], search: string): Found[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const found: (Found & { readonly isHeading: boolean })[] = [];
  for (const [id, name, text] of pages) {
    let section = "";
    for (const raw of text.split("\n")) {
      const heading = /^#+ (.*)$/.exec(raw)?.[1];
      if (heading !== undefined) section = heading;
      const line = raw
        .replace(/[`*|#]/g, " ")
        .replace(/\s+/g, " ")
        .trim();
      const sought = line.toLowerCase();
      if (line && words.every((word) => sought.includes(word))) found.push({ id, name, section, line, isHeading: heading !== undefined });
    }
  }
  return found
    .sort((a, b) => Number(b.isHeading) - Number(a.isHeading))
    .slice(0, MAX_FOUND)
    .map(({ isHeading: _isHeading, ...rest }) => rest);
}
