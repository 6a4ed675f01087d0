/**
 * JSON documents outlive the versions of this program that wrote them. Each kind has steps that bring a document of any
 * earlier version up to the present one: the number of steps is the version. A step is never changed; a new field or a
 * new meaning is a further step, with its default as it is on that day.
 */
export type Document = Readonly<Record<string, unknown>>;
export type Step = (document: Document) => Document;

/** Settings of a run from before each of these could be set. */
const settingsWithAll: Step = (settings) => ({
  ...{ basis: "last", throughTicks: 0, alsoOn: [], positions: "netting", margin: null, maxQuantity: null, maxPositions: null },
  ...{ conversions: {}, kit: null, testPosition: null, ruin: "stop", currency: "", costsScale: 1, costsFor: {}, seed: 1, riskFree: 0 },
  ...settings,
});

const withSettings: Step = (request) => ({ ...request, settings: settingsWithAll(request.settings as Document) });

/** Sweeps from before conditions and searches. */
const sweepWithAll: Step = (request) => withSettings({ constraints: [], search: null, ...request });

const walkForwardWithAll: Step = (request) => withSettings({ constraints: [], search: null, leastTrades: 5, ...request });

/** Instruments from before pips, and from before costs that came later than the first ones. */
const instrumentWithAll: Step = (facts) => ({
  pipSize: facts.tickSize,
  ...facts,
  costs: {
    ...{ commissionPerOrder: 0, commissionPerUnit: 0, commissionPercent: 0, commissionMinimum: 0, spreadTicks: 0, slippageTicks: 0 },
    ...{ slippageRange: 0, slippageRandomTicks: 0, financingLong: 0, financingShort: 0 },
    ...(facts.costs as Document),
  },
});

/** Evidence from before hashes of results, notes, figures of the plan's own, likely mistakes, and walk-forwards. */
const headWithAll: Step = (head) => ({
  ...{ resultHash: "", notes: [], ownFigures: [], slips: [], firstBar: 0, walkForwardId: "" },
  ...withSettings(head),
  plots: (head.plots as readonly Document[]).map((plot) => ({ shift: 0, ...plot })),
});

/** Figures that were first worked out after the first runs were kept: of those they are not known. */
const LATER_TRADE_FIGURES = ["worstLosingStreak", "averageMaeR", "averageMfeR", "tradedValue", "pathAtStake", "openAtEndNet"] as const;
const LATER_RUN_FIGURES = [
  ...["sessionsPerYear", "averagePositionValue", "peakMargin", "turnover", "monthsWon", "closedTradeDrawdown", "martinRatio"],
  ...["longestDrawdownDays", "costPerTradeTicks"],
] as const;

const unknown = (names: readonly string[]): Document => Object.fromEntries(names.map((name) => [name, null]));

const headWithFigures: Step = (head) => {
  const trades = unknown(LATER_TRADE_FIGURES);
  const filled = (figures: unknown): Document => ({ ...trades, ...(figures as Document) });
  const figures = { ...unknown(LATER_RUN_FIGURES), ...filled(head.figures) };
  return { ...head, figures, long: filled(head.long), short: filled(head.short) };
};

/** Runs from before watches could be opened as runs. */
const headWithWatched: Step = (head) => ({ watched: null, ...head });

export const STEPS = {
  settings: [settingsWithAll],
  "sweep request": [sweepWithAll],
  "walk-forward request": [walkForwardWithAll],
  instrument: [instrumentWithAll],
  "run head": [headWithAll, headWithFigures, headWithWatched],
} as const satisfies Readonly<Record<string, readonly Step[]>>;

export type DocumentKind = keyof typeof STEPS;
