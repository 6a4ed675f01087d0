/** Pieces of plans that are often wanted, offered while one types inside build(): by what they do, and one for each study. */
import { STUDIES, type StudyDefinition } from "@plan-tester/core";

export interface Snippet {
  /** What one types to find it. */
  readonly label: string;
  readonly detail: string;
  /** With what is to be filled in between double brackets. */
  readonly text: string;
}

const PIECES: readonly Snippet[] = [
  {
    label: "entry on a crossing",
    detail: "two averages cross; stop and target attached",
    text: `const fast = ema(bars.close, [[20]]);
const slow = ema(bars.close, [[60]]);
when(crossesAbove(fast, slow), () => {
  if (position.flat) enter.long({ stopLoss: ticks([[40]]), target: R([[2]]), tag: "[[up]]" });
});`,
  },
  {
    label: "entry by stop order at a channel",
    detail: "the highest high before this bar, good for the session",
    text: `const top = highest(bars.high, [[20]]).earlier(1);
on.barClose(() => {
  if (position.flat && orders.working.length === 0) enter.long.stop(top.now, { stopLoss: ticks([[40]]), goodFor: "session" });
});`,
  },
  {
    label: "entry back from a band",
    detail: "close comes back inside, both sides",
    text: `const { upper, lower } = bollinger(bars.close, [[40]], [[2]]);
when(crossesAbove(bars.close, lower), () => {
  if (position.flat) enter.long({ stopLoss: percent([[1]]), target: percent([[1]]) });
});
when(crossesBelow(bars.close, upper), () => {
  if (position.flat) enter.short({ stopLoss: percent([[1]]), target: percent([[1]]) });
});`,
  },
  {
    label: "entry once a session in a window",
    detail: "a guard by the clock and by a memory",
    text: `let entered = "";
const mayEnter = () => position.flat && entered !== clock.sessionDate && clock.between("[[08:00]]", "[[17:00]]");
when(crossesAbove(bars.close, sma(bars.close, [[50]])), () => {
  if (!mayEnter()) return;
  entered = clock.sessionDate;
  enter.long({ stopLoss: ticks([[40]]) });
});`,
  },
  {
    label: "filter and window of one side",
    detail: "an entry that is sent only where a condition holds",
    text: `const isUp = isAbove(bars.close, sma(bars.close, [[200]]));
const mayBuy = isUp.and(opensBetween(bars, "[[08:00]]", "[[11:00]]"));
on.barClose(() => {
  if (position.flat) enter.long({ onlyIf: mayBuy, stopLoss: ticks([[40]]) });
});`,
  },
  {
    label: "entry at the close",
    detail: "the session's last moment, held overnight with its stop",
    text: `on.beforeClose([[5]], () => {
  if (position.flat) enter.long({ at: "close", stopLoss: percent([[1]]), tag: "overnight" });
});
on.sessionOpen(() => position.close("out at the open"));`,
  },
  {
    label: "exit at a time of day",
    detail: "square off before the close",
    text: `on.clock("[[15:45]]", () => position.close("[[end of day]]"));`,
  },
  {
    label: "exit by a stop that follows new lows",
    detail: "the stop only ever gets tighter",
    text: `const low = lowest(bars.low, [[10]]);
on.barClose(() => {
  if (position.long) position.tightenStop(low.now);
});`,
  },
  {
    label: "exit after a number of bars",
    detail: "your own time limit",
    text: `on.barClose(() => {
  if (!position.flat && position.barsHeld >= [[20]]) position.close("[[time is over]]");
});`,
  },
  {
    label: "size by risk",
    detail: "a percent of equity over the stop distance, by average true range",
    text: `const range = atr(bars, [[14]]);
when(crossesAbove(bars.close, sma(bars.close, [[50]])), () => {
  if (position.flat) enter.long({ size: riskPercent([[0.5]]), stopLoss: multiple(range, [[2]]) });
});`,
  },
  {
    label: "higher timeframe filter",
    detail: "act only where the daily average agrees",
    text: `const daily = bars.at("[[1d]]");
const isUp = isAbove(daily.close, sma(daily.close, [[20]]));
when(crossesAbove(bars.close, sma(bars.close, [[30]])), () => {
  if (isUp.now && position.flat) enter.long({ stopLoss: ticks([[40]]) });
});`,
  },
  {
    label: "mirrored rule",
    detail: "written once, for longs and turned for shorts",
    text: `mirrored((side) => {
  const edge = side.highest(bars, [[20]]).earlier(1);
  when(side.crossesAbove(bars.close, edge), () => {
    if (position.flat) side.enter({ stopLoss: ticks([[40]]) });
  });
});`,
  },
  {
    label: "cool-down after a loss",
    detail: "no entry for some bars after a losing trade",
    text: `let bar = 0;
let waitUntil = 0;
on.barClose(() => bar++);
on.closed((trade) => {
  if (trade.net < 0) waitUntil = bar + [[20]];
});
const mayEnter = () => position.flat && bar >= waitUntil;`,
  },
  {
    label: "log what is seen",
    detail: "a line in the log, a text on the chart, your own figure",
    text: `on.sessionOpen(() => {
  log("[[close]] " + bars.close.now);
  note("[[open]]");
  figure("[[Last close]]", bars.close.now);
});`,
  },
];

/** How a study is declared and shown, with its own defaults. */
function ofStudy({ name, summary, inputs, outputs, pane }: StudyDefinition): Snippet | null {
  // Case: two instruments, or a condition: which ones is the plan's to say.
  if (inputs.filter(({ kind }) => kind === "column").length > 1) return null;
  const given = inputs.flatMap((input) => {
    if (input.kind === "bars") return ["bars"];
    return [input.kind === "column" ? "bars.close" : `[[${input.default}]]`];
  });
  const call = `${name}(${given.join(", ")})`;
  const show = (column: string): string => `show(${column}, { label: "${column}", pane: "${pane === "price" ? "price" : "own"}" });`;
  const text =
    outputs.length > 1
      ? `const { ${outputs.join(", ")} } = ${call};\n${outputs.map(show).join("\n")}`
      : `const ${name}1 = ${call};\n${show(`${name}1`)}`;
  return { label: `study ${name}`, detail: summary, text };
}

export const SNIPPETS: readonly Snippet[] = [...PIECES, ...STUDIES.flatMap((study) => ofStudy(study) ?? [])];

const PLACE = /\[\[(.*?)\]\]/g;

/** The text as the editor takes it, its places numbered. */
export function editorText({ text }: Snippet): string {
  let place = 0;
  return text.replaceAll("$", "\\$").replace(PLACE, (_whole, inner: string) => `\${${++place}:${inner}}`);
}

/** The text with its places filled in as they are suggested. */
export const plainText = ({ text }: Snippet): string => text.replace(PLACE, "$1");
