/** Prices that stand now, such as a stop or a working order: lines across, each with its words and price at the right. */
import type { Frame, Layer, TokenName } from "./layers.ts";

export interface Level {
  readonly price: number;
  readonly words: string;
  readonly color: TokenName;
  readonly dash: readonly number[];
  /** Whether the axis makes room for it. */
  readonly isSeen: boolean;
}

const FONT = "600 11px 'Atkinson Hyperlegible Next Variable', sans-serif";

export class LevelLayer implements Layer {
  readonly #levels: readonly Level[];

  constructor(levels: readonly Level[]) {
    this.#levels = levels;
  }

  range(): readonly [number, number] | null {
    const prices = this.#levels.filter(({ isSeen }) => isSeen).map(({ price }) => price);
    return prices.length > 0 ? [Math.min(...prices), Math.max(...prices)] : null;
  }

  paint({ ctx, y, left, right, tokens }: Frame): void {
    ctx.save();
    ctx.font = FONT;
    ctx.textAlign = "right";
    ctx.lineWidth = 1.2;
    for (const { price, words, color, dash } of this.#levels) {
      const level = Math.round(y(price)) + 0.5;
      ctx.strokeStyle = ctx.fillStyle = tokens[color];
      ctx.setLineDash([...dash]);
      ctx.beginPath();
      ctx.moveTo(left, level);
      ctx.lineTo(right, level);
      ctx.stroke();
      ctx.fillText(words, right - 4, level - 4);
    }
    ctx.restore();
  }
}
