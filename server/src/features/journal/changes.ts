/** What differs between two trials of a plan, in short words: the log of what one tried. */
import { type RunSettings, settingLabel, valueWords } from "@plan-tester/contract";
import type { InputValues } from "@plan-tester/core";

export interface Tried {
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function changed(label: string, before: unknown, now: unknown): string {
  const [a, b] = [valueWords(before), valueWords(now)];
  // Case: two kits of one name, or two costs of one's own.
  return a === b ? `${label} ${a}, changed inside` : `${label} ${a} → ${b}`;
}

/** Lines of one text that the other lacks, counted with repeats. */
function linesOnlyIn(text: string, other: string): number {
  const counts = new Map<string, number>();
  for (const line of other.split("\n")) counts.set(line.trim(), (counts.get(line.trim()) ?? 0) + 1);
  let only = 0;
  for (const line of text.split("\n")) {
    const left = counts.get(line.trim()) ?? 0;
    if (left > 0) counts.set(line.trim(), left - 1);
    else if (line.trim()) only++;
  }
  return only;
}

/** Each change in words; nothing where nothing changed. */
export function changesBetween(before: Tried | null, now: Tried): string[] {
  if (!before) return ["first run"];
  const changes: string[] = [];
  for (const name of new Set([...Object.keys(before.inputs), ...Object.keys(now.inputs)]))
    if (!isSame(before.inputs[name], now.inputs[name])) changes.push(changed(name, before.inputs[name], now.inputs[name]));
  const { from, to, ...settings } = now.settings;
  if (before.settings.from !== from || before.settings.to !== to)
    changes.push(`period ${before.settings.from} – ${before.settings.to} → ${from} – ${to}`);
  for (const name of Object.keys(settings) as (keyof typeof settings)[])
    if (!isSame(before.settings[name], settings[name])) changes.push(changed(settingLabel(name), before.settings[name], settings[name]));
  if (before.source !== now.source) {
    const [added, removed] = [linesOnlyIn(now.source, before.source), linesOnlyIn(before.source, now.source)];
    changes.push(added + removed === 0 ? "source: order or spacing" : `source: ${added} lines new, ${removed} gone`);
  }
  return changes;
}
