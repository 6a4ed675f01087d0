/** A text taken phrase by phrase: where it can't go on, it knows how far it came, and what would have fitted there. */

/** What may stand at a character of a sentence. */
export interface Fitting {
  /** First character that is not part of what could be read. */
  readonly at: number;
  readonly words: readonly string[];
}

const TOKEN = /\s*(\d{1,2}:\d{2}|-?\d+(?:\.\d+)?(?:[a-z]+\b)?|[A-Za-z][\w/-]*|[(),])/gy;
const IN_WORDS = {
  number: "a number",
  whole: "a whole number",
  time: "a time such as 09:30",
  timeframe: "a timeframe such as 1h",
  symbol: "a symbol",
} as const;

interface Token {
  readonly text: string;
  readonly lower: string;
  readonly at: number;
}

/** The text can't be read any further. */
export class Unreadable extends Error {}

export class Phrases {
  readonly #tokens: Token[] = [];
  /** Where the last word ends; ahead of characters that no word is made of. */
  readonly #end: number;
  readonly #hasRest: boolean;
  #at = 0;
  /** The furthest place that was looked at, and what would have fitted there. */
  #furthest = 0;
  #fits: string[] = [];

  constructor(text: string) {
    TOKEN.lastIndex = 0;
    let end = 0;
    for (let match = TOKEN.exec(text); match; match = TOKEN.exec(text)) {
      end = TOKEN.lastIndex;
      this.#tokens.push({ text: match[1]!, lower: match[1]!.toLowerCase(), at: end - match[1]!.length });
    }
    const rest = text.slice(end).search(/\S/);
    this.#hasRest = rest >= 0;
    this.#end = rest < 0 ? text.length : end + rest;
  }

  get fitting(): Fitting {
    return { at: this.#tokens[this.#furthest]?.at ?? this.#end, words: [...new Set(this.#fits)] };
  }

  get isAtEnd(): boolean {
    return this.#at >= this.#tokens.length;
  }

  /** Nothing may follow. */
  finish(): void {
    if (this.isAtEnd && !this.#hasRest) return;
    this.note("the end of the sentence");
    this.fail();
  }

  /** The word so many places on, "" where there is none. */
  protected peek(places = 0): string {
    return this.#tokens[this.#at + places]?.text ?? "";
  }

  protected get place(): number {
    return this.#at;
  }

  protected goTo(place: number): void {
    this.#at = place;
  }

  protected note(wanted: string, place = this.#at): void {
    if (place > this.#furthest) {
      this.#furthest = place;
      this.#fits = [];
    }
    if (place === this.#furthest) this.#fits.push(wanted);
  }

  protected fail(): never {
    throw new Unreadable();
  }

  /** Takes a phrase, if it stands here. `isQuiet`: words that may be left out are not offered. */
  protected accept(phrase: string, isQuiet = false): boolean {
    const words = phrase.toLowerCase().split(" ");
    let said = 0;
    while (said < words.length && this.#tokens[this.#at + said]?.lower === words[said]) said++;
    if (said === words.length) {
      this.#at += said;
      return true;
    }
    if (isQuiet) return false;
    // Case: the text ends inside the phrase. What is left of it fits there.
    const place = this.#at + said;
    if (said > 0 && place === this.#tokens.length) this.note(words.slice(said).join(" "), place);
    else this.note(phrase);
    return false;
  }

  protected expect(phrase: string): void {
    if (!this.accept(phrase)) this.fail();
  }

  protected oneOf<Word extends string>(words: readonly Word[]): Word | null {
    return words.find((word) => this.accept(word)) ?? null;
  }

  protected word(wanted: keyof typeof IN_WORDS, fits: (text: string) => boolean): string {
    const token = this.#tokens[this.#at];
    if (!token || !fits(token.text)) {
      this.note(IN_WORDS[wanted]);
      this.fail();
    }
    this.#at++;
    return token.text;
  }

  protected number(): number {
    return Number(this.word("number", (text) => /^-?\d+(\.\d+)?$/.test(text)));
  }

  protected whole(): number {
    return Number(this.word("whole", (text) => /^\d+$/.test(text)));
  }

  protected time(): string {
    return this.word("time", (text) => /^([01]?\d|2[0-3]):[0-5]\d$|^24:00$/.test(text)).padStart(5, "0");
  }
}
