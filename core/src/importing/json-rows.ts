/**
 * Bars in JSON made into CSV, part by part: an array of objects, an object a line, or an array of arrays. Names of the first
 * object are the head; what another one does not have is empty. What is no row comes out as it is, so that it is told by its line.
 */
const [QUOTE, BACKSLASH] = ['"', "\\"];
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
    /** Where the part of the row under way begins that lies in this text. */
    let from = 0;
    for (let i = 0; i < text.length; i++) {
      const letter = text[i]!;
      if (this.#isOpen && letter.trim() !== "") {
        this.#isOpen = false;
        if (!"{[]".includes(letter)) {
          this.#begin("[");
          from = i;
        }
      }
      if (this.#depth === 0) {
        if (letter === "{" || (letter === "[" && this.#isKnown)) {
          this.#begin("");
          from = i;
        } else if (letter === "[") this.#isKnown = this.#isOpen = true;
        continue;
      }
      this.#step(letter);
      if (this.#depth > 0 && i - from < MOST_LETTERS) continue;
      this.#row += text.slice(from, i + 1);
      from = i + 1;
      if (this.#depth === 0) out += this.#line();
      else if (this.#row.length > MOST_LETTERS) out += this.#broken();
    }
    if (this.#depth > 0) this.#row += text.slice(from);
    return out;
  }

  /** One letter of a row. */
  #step(letter: string): void {
    if (this.#isText) {
      if (this.#isEscaped) this.#isEscaped = false;
      else if (letter === BACKSLASH) this.#isEscaped = true;
      else if (letter === QUOTE) this.#isText = false;
    } else if (letter === QUOTE) this.#isText = true;
    else if (letter === "{" || letter === "[") this.#depth++;
    else if (letter === "}" || letter === "]") this.#depth--;
  }

  /** @param begun what of the row is not in the text that is read now */
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
