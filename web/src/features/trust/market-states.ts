/** In which state the market was, by day, by bar and by trade: the same thirds as the regimes of the tab Trust. */
import { type BarSeries, REGIME_NAMES, type RegimeKind, regimeLabels, STRIP, type TradeGroupOf } from "@plan-tester/core";
import { useMemo } from "react";
import type { NamedStrip } from "../../charts/strip-layers.ts";
import type { EvidenceData, EvidenceView } from "../run-view/view.ts";
import { regimeQuestion, tradeDays } from "./regime-question.ts";

export const REGIME_KINDS = Object.keys(REGIME_NAMES) as RegimeKind[];
export const REGIME_WORDS: Readonly<Record<RegimeKind, string>> = { volatility: "market volatility", trend: "market trend" };

type Sessions = Pick<BarSeries, "session" | "sessions" | "length">;

/** One row of a strip for each third: lit at the bars of its days. */
export function stateStrips(labels: Uint8Array, kind: RegimeKind, dates: readonly string[], bars: Sessions): NamedStrip[] {
  const dayOf = new Map(dates.map((date, day) => [date, day]));
  const ofSession = bars.sessions.dates.map((date) => labels[dayOf.get(date) ?? -1]);
  const names: readonly string[] = REGIME_NAMES[kind];
  const known = names.map((name, third) => ({ label: `${kind}: ${name}`, values: new Uint8Array(bars.length), third }));
  for (let bar = 0; bar < bars.length; bar++) {
    const third = ofSession[bars.session[bar]!];
    const isKnown = third !== undefined && third < names.length;
    for (const row of known) row.values[bar] = !isKnown ? STRIP.unknown : row.third === third ? STRIP.yes : STRIP.no;
  }
  return known.map(({ label, values }) => ({ label, values }));
}

/** Of each trade the names of the states in which it began; trades ahead of the first state have none. */
export class TradeStates {
  readonly #names = new Map<number, Readonly<Partial<Record<RegimeKind, string>>>>();

  constructor(view: Pick<EvidenceView, "daily" | "trades">, bars: BarSeries) {
    const question = regimeQuestion(view, bars, 1);
    const labels = REGIME_KINDS.map((kind) => [kind, regimeLabels(question, kind)] as const);
    tradeDays(view, bars).forEach((day, k) => {
      const names = labels.flatMap(([kind, own]) => {
        const name = day === undefined ? undefined : REGIME_NAMES[kind][own[day]!];
        return name ? [[kind, name] as const] : [];
      });
      this.#names.set(view.trades[k]!.id, Object.fromEntries(names));
    });
  }

  /** As words that a filter looks for: "volatility:calm trend:sideways". */
  wordsOf(id: number): string {
    return Object.entries(this.#names.get(id) ?? {})
      .map(([kind, name]) => `${kind}:${name}`)
      .join(" ");
  }

  groupBy(kind: RegimeKind): TradeGroupOf {
    return ({ id }) => {
      const name = this.#names.get(id)?.[kind];
      return { label: name ?? "not known yet", order: String((REGIME_NAMES[kind] as readonly string[]).indexOf(name ?? "")) };
    };
  }
}

/** null until the bars are there. */
export function useTradeStates(view: EvidenceView, data: EvidenceData | null): TradeStates | null {
  return useMemo(() => data && new TradeStates(view, data.bars), [view, data]);
}
