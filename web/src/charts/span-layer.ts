/** Stretches of time marked at the foot of a chart, with a word where there is room. */
import { lowerBound } from "@plan-tester/core";
import type { Frame, Layer, TokenName } from "./layers.ts";

export interface ChartSpan {
  readonly fromMs: number;
  /** The first moment behind it. */
  readonly toMs: number;
  readonly words: string;
  readonly color: TokenName;
}

const FONT = "11px 'Atkinson Hyperlegible Next Variable', sans-serif";
const HEIGHT = 4;
const LEAST_WIDTH = 3;
const GAP = 8;

export class SpanLayer implements Layer {
  readonly #spans: readonly (ChartSpan & { readonly first: number; readonly last: number })[];

  /** @param time of the bars; what lies between two of them is marked at the later one */
  constructor(spans: readonly ChartSpan[], time: Float64Array) {
    this.#spans = spans
      .map((span) => {
        const first = Math.min(time.length - 1, lowerBound(time, span.fromMs));
        return { ...span, first, last: Math.max(first, lowerBound(time, span.toMs) - 1) };
      })
      .sort((a, b) => a.first - b.first);
  }

  range(): null {
    return null;
  }

  paint({ ctx, x, step, from, to, bottom, tokens }: Frame): void {
    ctx.save();
    ctx.font = FONT;
    let wordsEnd = Number.NEGATIVE_INFINITY;
    for (const { first, last, words, color } of this.#spans) {
      if (last < from || first > to) continue;
      const [left, right] = [x(first) - step / 2, x(last) + step / 2];
      ctx.fillStyle = tokens[color];
      ctx.fillRect(left, bottom - HEIGHT, Math.max(LEAST_WIDTH, right - left), HEIGHT);
      if (left < wordsEnd) continue;
      ctx.fillText(words, left, bottom - HEIGHT - 3);
      wordsEnd = left + ctx.measureText(words).width + GAP;
    }
    ctx.restore();
  }
}
