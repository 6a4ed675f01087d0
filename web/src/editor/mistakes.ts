/**
 * What the type checker finds wrong in a plan, in the words of the plan language. A finding that is not known here keeps the
 * checker's own words.
 */

/** Names that build() takes from its argument: missing there is why they are not found. */
const FROM_BUILD: ReadonlySet<string> = new Set(
  "account bars clock during enter exit figure inputs log market markets mirrored note on orders position random show when".split(" "),
);

/** Types as one speaks of a value of theirs. */
const VALUES: Readonly<Record<string, string>> = {
  Column: "a column, such as bars.close or a study",
  Condition: "a condition",
  State: "a condition that holds for a while",
  Crossing: "a crossing",
  Distance: "a distance, such as ticks(40)",
  Size: "a size, such as units(2)",
  Order: "an order",
  Bars: "bars",
  Position: "the position",
  Market: "a market",
  EntryOptions: "options of an entry, such as { stopLoss: ticks(40) }",
  CloseOptions: "options of an exit, such as { part: 0.5 }",
  number: "a number",
  string: "a text",
  boolean: "true or false",
  void: "nothing",
  undefined: "nothing",
  null: "nothing",
};

/** Types as what has, or has not, something. */
const OWNERS: Readonly<Record<string, string>> = {
  Column: "A column",
  Condition: "A condition",
  State: "A condition",
  Crossing: "A crossing",
  Distance: "A distance",
  Size: "A size",
  Order: "An order",
  Bars: "bars",
  Position: "position",
  Orders: "orders",
  Account: "account",
  Market: "A market",
  EntrySide: "An entry",
  EntryOptions: "An entry",
  ExitSide: "An exit",
  CloseOptions: "An exit",
  Side: "A side",
  number: "A number",
  string: "A text",
  boolean: "true or false",
};

/** What turns a value of one type into one of another. */
const REMEDIES: readonly (readonly [given: RegExp, wanted: RegExp, advice: string])[] = [
  [/^Column$/, /^number$/, "Its value at the last bar is .now."],
  [/^(State|Crossing|Condition)$/, /^boolean$/, "Whether it holds at the last bar is .now."],
  [/^State$/, /^Crossing$/, "The moment at which it begins is becomes(…); on each bar on which it holds acts during(…)."],
  [/^number$|^\d/, /^Distance$/, "Give it its unit: ticks(40), percent(1.5), money(500), multiple(range, 2) or price(412.5)."],
  [/^number$|^\d/, /^Size$/, "Give it its unit: units(2), equityPercent(20) or riskPercent(0.5)."],
  [/^boolean$/, /^(State|Crossing|Condition)$/, "Compare columns by words: isAbove(a, b), crossesAbove(a, b)."],
  [/^Bars$/, /^Column$/, "Take one of its columns: bars.close."],
  [/^number$/, /^Column$/, "The column itself is wanted, without .now."],
];

const isLiteral = (type: string): boolean => /^("[^"]*"|-?[\d.]+|true|false)$/.test(type);

/** "a number or a column": a type as one speaks of it. Literals and shapes stay as they are. */
function valueWords(type: string): string {
  if (/^\(.*\) => /.test(type)) return "a function, such as () => { … }";
  if (type.startsWith("{")) return type;
  const words = type.split(" | ").map((part) => VALUES[part] ?? part);
  return [...new Set(words)].filter((word) => word !== "nothing" || words.length === 1).join(" or ");
}

const ownerWords = (type: string): string =>
  type.startsWith("Context<") ? "build's argument" : (OWNERS[type] ?? (type.startsWith("{") ? "This" : type));

function mismatch(given: string, wanted: string): string {
  const optional = wanted.replace(/ \| undefined$/, "");
  const [, , advice = ""] = REMEDIES.find(([from, to]) => from.test(given) && optional.split(" | ").some((part) => to.test(part))) ?? [];
  const is = isLiteral(given) ? given : valueWords(given);
  return `Here goes ${valueWords(optional)}; this is ${is}.${advice && ` ${advice}`}`;
}

const meant = (name: string | undefined): string => (name ? ` Did you mean "${name}"?` : "");

type Wording = (...parts: string[]) => string;

const notFound: Wording = (name, other) =>
  FROM_BUILD.has(name!)
    ? `"${name}" comes from build's argument: build({ ${name}, … }) { … }.`
    : `The plan language has no "${name}", and nothing here is called so.${meant(other)}`;

const hasNone: Wording = (name, type, other) => `${ownerWords(type!)} has no "${name}".${meant(other)}`;

const noOption: Wording = (name, type, other) => {
  const owner = ownerWords(type!);
  return `${owner} has no option "${name}".${meant(other)}`;
};

const joined: Wording = (operator, left, right) => {
  const words: Readonly<Record<string, string>> = {
    ">": "isAbove(a, b)",
    "<": "isBelow(a, b)",
    ">=": "isAtOrAbove(a, b)",
    "<=": "isAtOrBelow(a, b)",
    "+": "a.plus(b)",
  };
  if (![left, right].includes("Column")) return `${valueWords(left!)} and ${valueWords(right!)} can't be joined by ${operator}.`;
  return `Columns are not joined by ${operator}. For every bar: ${words[operator!] ?? "a word of theirs"}; for the last one: a.now ${operator} b.now.`;
};

const arithmetic: Wording = () =>
  "A number stands on both sides of an arithmetic sign. Columns: a.plus(b), a.minus(b), a.times(b), a.over(b); their last value: a.now.";

const counted = (count: string): string => (count === "1" ? "1 argument" : `${count} arguments`);

const MISSING = /^Type '(.+?)' is missing the following properties from type '(.+?)':/s;

/** By the number of the finding: how it reads, and how it is said. */
const KNOWN: Readonly<Record<string, readonly (readonly [RegExp, Wording])[]>> = {
  "2304": [[/^Cannot find name '([^']+)'\./, notFound]],
  "2552": [[/^Cannot find name '([^']+)'\. Did you mean '([^']+)'\?/, notFound]],
  "2339": [[/^Property '([^']+)' does not exist on type '(.+)'\.$/s, hasNone]],
  "2551": [[/^Property '([^']+)' does not exist on type '(.+)'\. Did you mean '([^']+)'\?$/s, hasNone]],
  "2353": [[/^Object literal may only specify known properties, and '"?([^'"]+)"?' does not exist in type '(.+)'\.$/s, noOption]],
  "2561": [
    [
      /^Object literal may only specify known properties, but '"?([^'"]+)"?' does not exist in type '(.+)'\. Did you mean to write '([^']+)'\?$/s,
      noOption,
    ],
  ],
  "2345": [[/^Argument of type '(.+?)' is not assignable to parameter of type '(.+?)'\./s, (given, wanted) => mismatch(given!, wanted!)]],
  "2322": [[/^Type '(.+?)' is not assignable to type '(.+?)'\./s, (given, wanted) => mismatch(given!, wanted!)]],
  "2741": [[/^Property '.+' is missing in type '(.+?)' but required in type '(.+?)'\./s, (given, wanted) => mismatch(given!, wanted!)]],
  "2739": [[MISSING, (given, wanted) => mismatch(given!, wanted!)]],
  "2740": [[MISSING, (given, wanted) => mismatch(given!, wanted!)]],
  "2554": [[/^Expected (\S+) arguments?, but got (\d+)\./, (wanted, got) => `This takes ${counted(wanted!)}; it got ${got}.`]],
  "2555": [
    [/^Expected at least (\d+) arguments?, but got (\d+)\./, (wanted, got) => `This takes at least ${counted(wanted!)}; it got ${got}.`],
  ],
  "2365": [[/^Operator '([^']+)' cannot be applied to types '(.+)' and '(.+)'\./s, joined]],
  "2362": [[/^The left-hand side of an arithmetic operation/, arithmetic]],
  "2363": [[/^The right-hand side of an arithmetic operation/, arithmetic]],
  "2367": [
    [
      /^This comparison appears to be unintentional because the types '(.+)' and '(.+)' have no overlap\./s,
      (left, right) => `${valueWords(left!)} is never the same as ${valueWords(right!)}.`,
    ],
  ],
  "2540": [[/^Cannot assign to '([^']+)' because it is a read-only property\./, (name) => `"${name}" can be read, not set.`]],
  "2588": [[/^Cannot assign to '([^']+)' because it is a constant\./, (name) => `"${name}" is a const: write let where it is to change.`]],
  "7053": [[/can't be used to index type 'Column'/, () => "A column is read by .now for the last bar and by .ago(1) for the one before."]],
};

/** @param code number of the checker's finding, as text @param message its first words */
export function inPlanWords(code: string, message: string): string {
  for (const [pattern, say] of KNOWN[code] ?? []) {
    const found = pattern.exec(message);
    if (found) return say(...found.slice(1));
  }
  return message;
}
