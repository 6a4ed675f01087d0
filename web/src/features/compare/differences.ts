/** What differs between runs: settings and inputs by name, with the value of each. */
import type { RunEvidence } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { kitWords } from "./kit-words.ts";

export interface Difference {
  readonly name: string;
  /** One for each run. */
  readonly values: readonly string[];
}

function shown(value: unknown): string {
  if (value === null || value === undefined || value === "") return "none";
  if (Array.isArray(value)) return value.length === 0 ? "none" : value.join(", ");
  return typeof value === "object" ? JSON.stringify(value) : String(value);
}

export function differencesOf(runs: readonly RunEvidence[]): Difference[] {
  const rows: Difference[] = [];
  const add = (name: string, of: (run: RunEvidence) => string): void => {
    const values = runs.map(of);
    if (new Set(values).size > 1) rows.push({ name, values });
  };
  add("plan", (run) => run.title);
  add("instrument", ({ settings }) => settings.symbol);
  add("timeframe", ({ settings }) => timeframeLabel(settings.timeframe));
  add("period", ({ settings }) => `${settings.from} – ${settings.to}`);
  add("exit kit", ({ settings }) => kitWords(settings.kit));
  const names = new Set(runs.flatMap((run) => Object.keys(run.settings)));
  for (const name of names)
    if (!["symbol", "timeframe", "from", "to", "kit"].includes(name))
      add(name, (run) => shown(run.settings[name as keyof RunEvidence["settings"]]));
  const inputs = new Map(runs.flatMap((run) => run.inputSpecs.map((spec) => [spec.name, spec.label] as const)));
  for (const [name, label] of inputs) add(label, (run) => shown(run.inputs[name]));
  add("source", ({ source }) => `${source.split("\n").length} lines, ${textHash(source)}`);
  add("data", ({ dataHash }) => dataHash.slice(0, 8));
  return rows;
}

/** Tells texts apart in a table; not for anything else. */
function textHash(text: string): string {
  let hash = 5381;
  for (let i = 0; i < text.length; i++) hash = (hash * 33 + text.charCodeAt(i)) >>> 0;
  return hash.toString(16).slice(0, 6);
}
