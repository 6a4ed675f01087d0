/** Binds a study's definition to columns of a run: its outputs as columns, computed once for each store. */
import type { BarSeries } from "../market/bars.ts";
import { type ColumnValues, checkNumbers, type StudyArguments, type StudyDefinition } from "../studies/definition.ts";
import { type Column, deriveColumn, operand } from "./columns.ts";
import type { Scope } from "./scope.ts";
import type { Entry, NumberEntry } from "./study-store.ts";

/**
 * Declares a study; columns of other scopes are aligned to `scope`.
 * @returns a column for each output, in declared order.
 * @throws PlanTesterError bad-study when a number is out of bounds.
 */
export function declareStudy(definition: StudyDefinition, scope: Scope, columns: readonly Column[], numbers: readonly number[]): Column[] {
  checkNumbers(definition, numbers);
  const parts = columns.map((column) => operand(scope, column, `${definition.name}()`));
  const key = `${definition.name}(${[...parts.map((entry) => entry.key), ...numbers].join(", ")})`;
  // All outputs come of one computation; on the forming bar's few bars it is made anew for each.
  let [knownBars, known]: [BarSeries | null, ReturnType<StudyDefinition["compute"]>] = [null, []];
  const compute = (bars: BarSeries, given: readonly Entry[], output: number): ColumnValues => {
    const args: StudyArguments = { bars, columns: given as readonly NumberEntry[], numbers };
    if (given !== parts) return definition.compute(args)[output]!;
    // The first output goes on in its memory, and the others with it.
    if (output === 0 || knownBars !== bars) {
      known = definition.compute(args);
      knownBars = bars;
    }
    return known[output]!;
  };
  const own = definition.settle(numbers);
  if (definition.outputs.length === 1) return [deriveColumn(scope, key, own, parts, (bars, given) => compute(bars, given, 0))];
  return definition.outputs.map((output, i) =>
    deriveColumn(scope, `${key}.${output}`, own, parts, (bars, given) => compute(bars, given, i)),
  );
}
