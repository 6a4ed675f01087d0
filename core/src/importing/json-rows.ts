/**
 * Bars in JSON made into CSV, part by part: an array of objects, an object a line, or an array of arrays. Names of the first
 * object are the head; what another one does not have is empty. What is no row comes out as it is, so that it is told by its line.
 */
const [QUOTE, BACKSLASH, BRACE, BRACKET] = [0x22, 0x5c, 0x7b, 0x5b];
const [BRACE_END, BRACKET_END, SPACE] = [0x7d, 0x5d, 0x20];
/** A row longer than this is none. */
const MOST_LETTERS = 100_000;

export class JsonRows {
  readonly #decoder = new TextDecoder();
  /** The row under way: its text, how deep it is nested, and whether a text in it is open. */
  #row = "";
  #depth = 0;
  #isText = false;
  #isEscaped = false;
  #names: readonly string[] | null = null;
  /** Whether the bracket around all rows, or the first row, has been seen. */
  #isKnown = false;
  /** A bracket has come of which it is not known yet whether it stands around all rows, or is the first one's. */
  #isOpen = false;

  feed(part: Uint8Array): string {
    return this.#read(this.#decoder.decode(part, { stream: true }));
  }

  finish(): string {
    const rest = this.#read(this.#decoder.decode());
    return this.#row.trim() === "" ? rest : `${rest}${this.#broken()}`;
  }

  #read(text: string): string {
    let out = "";
    for (let i = 0; i < text.length; ) {
      if (this.#depth === 0) i = this.#toRow(text, i);
      else {
        const end = this.#toEnd(text, i);
        this.#row += text.slice(i, end);
        i = end;
        if (this.#depth === 0) out += this.#line();
        else if (this.#row.length > MOST_LETTERS) out += this.#broken();
      }
    }
    return out;
  }

  /** Where the next row goes on, or the text ends. */
  #toRow(text: string, from: number): number {
    for (let i = from; i < text.length; i++) {
      const letter = text.charCodeAt(i);
      if (this.#isOpen && letter > SPACE) {
        this.#isOpen = false;
        if (letter !== BRACE && letter !== BRACKET && letter !== BRACKET_END) {
          this.#begin("[");
          return i;
        }
      }
      if (letter === BRACE || (letter === BRACKET && this.#isKnown)) {
        this.#begin(String.fromCharCode(letter));
        return i + 1;
      }
      if (letter === BRACKET) this.#isKnown = this.#isOpen = true;
    }
    return text.length;
  }

  /** Where the row that is under way ends, or the text. A row is looked through in parts that are no longer than one may be. */
  #toEnd(text: string, from: number): number {
    let depth = this.#depth;
    let isText = this.#isText;
    let isEscaped = this.#isEscaped;
    const end = Math.min(text.length, from + MOST_LETTERS);
    let i = from;
    for (; i < end && depth > 0; i++) {
      const letter = text.charCodeAt(i);
      if (isText) {
        if (isEscaped) isEscaped = false;
        else if (letter === BACKSLASH) isEscaped = true;
        else if (letter === QUOTE) isText = false;
      } else if (letter === QUOTE) isText = true;
      else if (letter === BRACE || letter === BRACKET) depth++;
      else if (letter === BRACE_END || letter === BRACKET_END) depth--;
    }
    this.#depth = depth;
    this.#isText = isText;
    this.#isEscaped = isEscaped;
    return i;
  }

  /** @param begun the row as far as it has been seen */
  #begin(begun: string): void {
    this.#isKnown = true;
    this.#isOpen = false;
    this.#row = begun;
    this.#depth = 1;
  }

  #line(): string {
    let row: unknown;
    try {
      row = JSON.parse(this.#row);
    } catch {
      return this.#broken();
    }
    this.#row = "";
    if (Array.isArray(row)) return `${row.map(field).join(",")}\n`;
    const object = row as Readonly<Record<string, unknown>>;
    const names = this.#names ?? Object.keys(object);
    const head = this.#names ? "" : `${names.map(field).join(",")}\n`;
    this.#names = names;
    return `${head}${names.map((name) => field(object[name])).join(",")}\n`;
  }

  #broken(): string {
    const text = this.#row.slice(0, 80).replace(/[\r\n,]+/g, " ");
    this.#row = "";
    this.#depth = 0;
    this.#isText = this.#isEscaped = false;
    return `${text}\n`;
  }
}

/** A value as a field of CSV; what is nested has no place in one. */
function field(value: unknown): string {
  if (value === null || value === undefined || typeof value === "object") return "";
  const text = String(value);
  return /[",\n\r]/.test(text) ? `"${text.replace(/["\n\r]/g, " ")}"` : text;
}
