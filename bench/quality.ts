/** A history of three years of minutes looked through for what is doubtful, and drawn as a map, against its bars put into sessions. */
import { coverageMap, examine, findCalendar, historyOf, makeSeries } from "@plan-tester/core";
import { generateHistory, HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { median, ratioOf } from "./series.ts";

const ROUNDS = 5;
const MAP_GOAL_MS = 300;
const instrument = instrumentNamed("TIDE")!;
const { columns } = generateHistory(instrument.symbol, HISTORY_TO);
const history = historyOf(makeSeries(columns, "1m", instrument.calendar), instrument);
const { findings } = examine(history);
const found = findCalendar(columns, "1m", ["UTC", instrument.calendar.zone])!;
if (found.inside !== 1) throw new Error("The sessions found do not hold the bars.");

const maps: number[] = [];
for (let round = 0; round < ROUNDS; round++) {
  const began = performance.now();
  const map = coverageMap(history, findings);
  maps.push(performance.now() - began);
  if (!map?.doubt.some((code) => code > 0)) throw new Error("The map shows none of what was found.");
}
const { ratio, engineMs, loopMs } = ratioOf(
  ROUNDS,
  () => examine(historyOf(history.series, instrument)),
  () => makeSeries(columns, "1m", instrument.calendar),
);
console.log(
  `  ${columns.time.length.toLocaleString("en-GB")} bars: map in ${median(maps).toFixed(0)} ms (goal ${MAP_GOAL_MS}), looked through in ${engineMs.toFixed(0)} ms, put into sessions in ${loopMs.toFixed(0)} ms`,
);
console.log(`bench quality ratio ${ratio.toFixed(2)}`);
