/** What differs between runs: settings and inputs by name, with the value of each. */
import { type RunEvidence, type RunSettings, settingLabel, valueWords } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { periodWords } from "../../lib/format.ts";
import { kitWords } from "./kit-words.ts";

export interface Difference {
  readonly name: string;
  /** One for each run. */
  readonly values: readonly string[];
}

const SAID_ABOVE = new Set<keyof RunSettings>(["symbol", "timeframe", "from", "to", "kit"]);

const keyOf = ({ name, label, unit }: RunEvidence["inputSpecs"][number]): string => [name, label, unit].join("\n");

export function differencesOf(runs: readonly RunEvidence[]): Difference[] {
  const rows: Difference[] = [];
  const add = (name: string, of: (run: RunEvidence) => string): void => {
    const values = runs.map(of);
    if (new Set(values).size > 1) rows.push({ name, values });
  };
  add("plan", (run) => run.title);
  add("instrument", ({ settings }) => settings.symbol);
  add("timeframe", ({ settings }) => timeframeLabel(settings.timeframe));
  add("period", ({ settings }) => periodWords(settings));
  add("exit kit", ({ settings }) => kitWords(settings.kit));
  const names = new Set(runs.flatMap((run) => Object.keys(run.settings) as (keyof RunSettings)[]));
  for (const name of names) if (!SAID_ABOVE.has(name)) add(settingLabel(name), (run) => valueWords(run.settings[name]));
  // Two plans may call different things by one name: an input is the same where its label and unit are too.
  const specs = new Map(runs.flatMap((run) => run.inputSpecs.map((spec) => [keyOf(spec), spec] as const)));
  for (const [key, spec] of specs)
    add(spec.unit ? `${spec.label}, ${spec.unit}` : spec.label, (run) =>
      valueWords(run.inputSpecs.some((own) => keyOf(own) === key) ? run.inputs[spec.name] : undefined),
    );
  const texts = [...new Set(runs.map(({ source }) => source))];
  add("source", ({ source }) => `text ${texts.indexOf(source) + 1}, ${source.split("\n").length} lines`);
  add("data", ({ dataHash }) => dataHash.slice(0, 8));
  return rows;
}
