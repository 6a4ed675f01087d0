/** Parts of reports: one HTML file that needs nothing else and prints well. Texts are made safe here and nowhere else. */
import { number } from "./format.ts";

const [WIDTH, HEIGHT, FALL] = [720, 220, 60];

export const safe = (text: string): string =>
  text.replace(/[&<>"]/g, (mark) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[mark]!);

export type Cell = string | readonly [string, "n"];

/** A number, which stands at the right. */
export const right = (text: string): Cell => [text, "n"];

export function table(head: readonly Cell[], rows: readonly (readonly Cell[])[]): string {
  const cell = (tag: string, given: Cell): string =>
    typeof given === "string" ? `<${tag}>${safe(given)}</${tag}>` : `<${tag} class="n">${safe(given[0])}</${tag}>`;
  const row = (tag: string, cells: readonly Cell[]): string => `<tr>${cells.map((given) => cell(tag, given)).join("")}</tr>`;
  return `<table><thead>${row("th", head)}</thead><tbody>${rows.map((cells) => row("td", cells)).join("")}</tbody></table>`;
}

function path(values: ArrayLike<number>, top: number, height: number, low: number, high: number): string {
  const x = (i: number): string => ((i / Math.max(1, values.length - 1)) * WIDTH).toFixed(1);
  const y = (value: number): string => (top + height - ((value - low) / (high - low || 1)) * height).toFixed(1);
  let drawn = "";
  let isOpen = false;
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i]!)) isOpen = false;
    else {
      drawn += `${isOpen ? "L" : "M"}${x(i)},${y(values[i]!)}`;
      isOpen = true;
    }
  }
  return drawn;
}

/** Inks that can be told apart on paper, with a dash each. */
const INKS = [
  ["#1c2530", ""],
  ["#2b4a8b", ""],
  ["#14735f", "7 3"],
  ["#a84813", "2 2"],
  ["#6b7280", ""],
  ["#2b4a8b", "7 3"],
  ["#14735f", "2 2"],
  ["#a84813", "9 2 2 2"],
] as const;

export interface CurveLine {
  readonly name: string;
  readonly values: ArrayLike<number>;
}

const extremes = (columns: readonly ArrayLike<number>[]): [number, number] => {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const column of columns)
    for (let i = 0; i < column.length; i++)
      if (!Number.isNaN(column[i]!)) [low, high] = [Math.min(low, column[i]!), Math.max(high, column[i]!)];
  return [low, high];
};

/**
 * Lines over one another, the first drawn the thickest; below them how far something is under its peak.
 * @param fall 0 or less at each point; left out for none
 */
export function curves(lines: readonly CurveLine[], fall: ArrayLike<number> | null, caption: string): string {
  const [low, high] = extremes(lines.map(({ values }) => values));
  if (!(high > low)) return "";
  const drawn = lines
    .map(({ values }, k) => {
      const [ink, dash] = INKS[k % INKS.length]!;
      const width = k === 0 && lines.length > 1 ? 2.2 : 1.3;
      return `<path d="${path(values, 0, HEIGHT, low, high)}" fill="none" stroke="${ink}" stroke-width="${width}"${dash ? ` stroke-dasharray="${dash}"` : ""}/>`;
    })
    .reverse();
  const deepest = fall ? Math.min(extremes([fall])[0], -1e-9) : 0;
  const under = fall
    ? `<path d="${path(fall, HEIGHT + 10, FALL, deepest, 0)}L${WIDTH},${HEIGHT + 10}L0,${HEIGHT + 10}Z" fill="#f3d9c8" stroke="#a84813"/>`
    : "";
  const key =
    lines.length > 1
      ? `<p class="s">${lines.map(({ name }, k) => `<svg style="width:24px" viewBox="0 0 24 6"><path d="M0,3L24,3" stroke="${INKS[k % INKS.length]![0]}" stroke-width="2" stroke-dasharray="${INKS[k % INKS.length]![1]}"/></svg> ${safe(name)}`).join(" · ")}</p>`
      : "";
  return `<figure>${key}<svg viewBox="0 0 ${WIDTH} ${HEIGHT + (fall ? FALL + 10 : 0)}" role="img" aria-label="${safe(caption)}">${drawn.join("")}${under}</svg><figcaption>${safe(caption)} From ${number(low)} to ${number(high)}.</figcaption></figure>`;
}

const STYLE = `body{font:14px/1.45 system-ui,sans-serif;color:#1c2530;background:#fbf9f4;max-width:760px;margin:2em auto;padding:0 1em}
h1{font-size:22px;margin-bottom:0}h2{font-size:16px;margin-top:1.6em;border-bottom:1px solid #d8d2c4}
table{border-collapse:collapse;width:100%;font-size:12px}th,td{text-align:left;padding:2px 6px;border-bottom:1px solid #e6e0d2;font-variant-numeric:tabular-nums;vertical-align:top}
.n{text-align:right}pre{font-size:11px;white-space:pre-wrap;background:#f3f0e8;padding:8px}.w{border-left:3px solid #6f5200;padding-left:8px}svg{width:100%}
figcaption,.s{color:#565f6b}@media print{body{background:#fff;margin:0}h2{break-after:avoid}tr{break-inside:avoid}}`;

export interface Doubt {
  readonly text: string;
  readonly advice: string;
}

/** Warnings come ahead of any figure. */
export const doubtsPart = (doubts: readonly Doubt[]): string =>
  doubts.length === 0
    ? ""
    : `<h2>Before you believe it</h2>${doubts.map(({ text, advice }) => `<p class="w"><strong>${safe(text)}.</strong> ${safe(advice)}</p>`).join("")}`;

export const section = (title: string, body: string): string => (body === "" ? "" : `<h2>${safe(title)}</h2>${body}`);

/** @param note the user's own, at the top @param parts HTML that is safe already */
export function reportPage({
  title,
  about,
  note,
  parts,
}: {
  readonly title: string;
  readonly about: string;
  readonly note: string;
  readonly parts: readonly string[];
}): string {
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${safe(title)}</title><style>${STYLE}</style></head><body>
<h1>${safe(title)}</h1><p class="s">${safe(about)}</p>${note ? `<p>${safe(note)}</p>` : ""}
${parts.filter(Boolean).join("\n")}</body></html>
`;
}
