/**
 * What a search aims at: a figure or a blend of several, of the setting itself or of the middle of its neighbourhood,
 * among the settings that meet conditions.
 */
import { SWEEP_FIGURES, SWEEP_SENSE, type SweepFigure } from "../run/variant.ts";
import { Lattice } from "../trust/plateau.ts";
import { ranksOf } from "./ranks.ts";
import { placesOf, type SearchSpace } from "./space.ts";

export interface AimTerm {
  readonly figure: SweepFigure;
  readonly weight: number;
}

export interface AimCondition {
  readonly figure: SweepFigure;
  readonly is: "at least" | "at most";
  readonly value: number;
}

export interface Aim {
  /** One, or several that are blended. */
  readonly terms: readonly AimTerm[];
  /** Whether the median of a setting and its neighbours counts, rather than the setting alone. */
  readonly robust: boolean;
  readonly conditions: readonly AimCondition[];
}

/** Figures of tried settings: `row` numbers a setting, its figures in-sample stand first in its row. */
export interface TriedFigures {
  readonly figures: Float64Array;
  readonly rowWidth: number;
  /** The points that the rows stand for; there may be more rows than points. */
  readonly points: ArrayLike<number>;
  readonly space: Pick<SearchSpace, "sizes" | "ordered">;
}

/**
 * How well each setting does by an aim: more is better, NaN where a figure is undefined, a condition is not met or
 * nothing is known yet. One figure is its own value, turned round where less is better; a blend is the weighted mean of
 * ranks, so that money and ratios can stand side by side.
 */
export function scoresOf({ terms, robust, conditions }: Aim, tried: TriedFigures): Float64Array {
  const { figures, rowWidth, points, space } = tried;
  const columnOf = (figure: SweepFigure): Float64Array => {
    const at = SWEEP_FIGURES.indexOf(figure);
    const sign = SWEEP_SENSE[figure] === "less" ? -1 : 1;
    return Float64Array.from(points, (_point, row) => sign * figures[row * rowWidth + at]!);
  };
  let scores: Float64Array;
  if (terms.length === 1) scores = columnOf(terms[0]!.figure);
  else {
    scores = new Float64Array(points.length);
    const whole = terms.reduce((sum, { weight }) => sum + weight, 0);
    for (const { figure, weight } of terms) {
      const ranks = ranksOf(columnOf(figure));
      for (let row = 0; row < scores.length; row++) scores[row]! += (ranks[row]! * weight) / whole;
    }
  }
  if (robust) scores = amongNeighbours(scores, points, space);
  for (const { figure, is, value } of conditions) {
    const at = SWEEP_FIGURES.indexOf(figure);
    for (let row = 0; row < scores.length; row++) {
      const own = figures[row * rowWidth + at]!;
      if (!(is === "at least" ? own >= value : own <= value)) scores[row] = Number.NaN;
    }
  }
  return scores;
}

/** The median of each setting and its neighbours one step away, as far as they were tried. */
function amongNeighbours(scores: Float64Array, points: ArrayLike<number>, { sizes, ordered }: TriedFigures["space"]): Float64Array {
  const places = new Int32Array(points.length * sizes.length);
  for (let row = 0; row < points.length; row++) places.set(placesOf(points[row]!, sizes), row * sizes.length);
  const lattice = new Lattice(places, sizes, ordered);
  return scores.map((own, row) => (Number.isNaN(own) ? own : (lattice.around(row, 1, (other) => scores[other]!).median ?? Number.NaN)));
}

/** The row with the highest score; -1 where none counts. */
export function bestOf(scores: Float64Array): number {
  let best = -1;
  for (let row = 0; row < scores.length; row++)
    if (!Number.isNaN(scores[row]!) && !(best >= 0 && scores[row]! <= scores[best]!)) best = row;
  return best;
}
