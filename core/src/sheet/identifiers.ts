/** Names in the program that a sheet writes: made of the user's words, each given once. */
import { VOCABULARY } from "../language/vocabulary.ts";

const RESERVED = new Set(
  (
    "break case catch class const continue debugger default delete do else enum export extends false finally for function if " +
    "implements import in instanceof interface let new null package private protected public return static super switch this " +
    "throw true try typeof undefined var void while with yield await async arguments eval of get set NaN Infinity Object Array " +
    "Number String Boolean Math Map Set JSON Date Error Symbol inputs bars when during on enter exit position orders account " +
    "market markets clock log note figure show random build plan title options entries coolDown minutesLeft longOrder shortOrder trade"
  )
    .split(" ")
    .concat(Object.keys(VOCABULARY)),
);

/** Latin letters without their marks, words joined: "Überkauft am Abend" becomes "uberkauftAmAbend". */
export function camelCase(text: string): string {
  const words = text
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .split(/[^A-Za-z0-9]+/)
    .filter((word) => word !== "");
  const joined = words.map((word, i) => (i === 0 ? startLower(word) : word[0]!.toUpperCase() + word.slice(1))).join("");
  return joined === "" || /^\d/.test(joined) ? `rule${joined}` : joined.slice(0, 40);
}

/** Words in capitals are written small as a whole: "RSI" becomes "rsi". */
const startLower = (word: string): string => (/^[A-Z0-9]+$/.test(word) ? word.toLowerCase() : word[0]!.toLowerCase() + word.slice(1));

export class Identifiers {
  readonly #taken: Set<string>;

  /** @param taken names that mean something else already */
  constructor(taken: Iterable<string> = RESERVED) {
    this.#taken = new Set(taken);
  }

  /** The name wanted, or the next free one with a number behind it. */
  take(wanted: string): string {
    let name = wanted;
    for (let i = 2; this.#taken.has(name); i++) name = `${wanted}${i}`;
    this.#taken.add(name);
    return name;
  }
}
