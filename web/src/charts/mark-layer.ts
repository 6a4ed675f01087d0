/** Marks made by hand: a ring where one would have got in, a line to where one would have got out, stop and target as dashes. */
import { lowerBound, type Mark } from "@plan-tester/core";
import type { Frame, Layer } from "./layers.ts";

const FONT = "600 11px 'Atkinson Hyperlegible Next Variable', sans-serif";

export class MarkLayer implements Layer {
  readonly #marks: readonly { readonly mark: Mark; readonly entry: number; readonly exit: number | null }[];
  readonly #selected: string | null;

  /** @param time of the bars */
  constructor(marks: readonly Mark[], time: Float64Array, selected: string | null) {
    const barOf = (ms: number): number => Math.max(0, lowerBound(time, ms + 1) - 1);
    this.#marks = marks.map((mark) => ({ mark, entry: barOf(mark.entryMs), exit: mark.exitMs === null ? null : barOf(mark.exitMs) }));
    this.#selected = selected;
  }

  range(): null {
    return null;
  }

  paint({ ctx, x, y, step, from, to, tokens }: Frame): void {
    ctx.save();
    ctx.font = FONT;
    for (const { mark, entry, exit } of this.#marks) {
      if ((exit ?? entry) < from || entry > to) continue;
      const [px, py] = [x(entry), y(mark.entryPrice)];
      const endX = exit === null ? px + Math.max(24, step * 8) : x(exit);
      ctx.strokeStyle = ctx.fillStyle = tokens.accent;
      ctx.lineWidth = mark.id === this.#selected ? 2.5 : 1.5;
      if (mark.exitPrice !== null && exit !== null) {
        ctx.beginPath();
        ctx.moveTo(px, py);
        ctx.lineTo(endX, y(mark.exitPrice));
        ctx.stroke();
        ctx.fillRect(endX - 3, y(mark.exitPrice) - 3, 6, 6);
      }
      for (const level of [mark.stop, mark.target]) {
        if (level === null) continue;
        ctx.setLineDash([5, 3]);
        ctx.beginPath();
        ctx.moveTo(px, y(level));
        ctx.lineTo(endX, y(level));
        ctx.stroke();
        ctx.setLineDash([]);
      }
      ctx.beginPath();
      ctx.arc(px, py, 4.5, 0, 2 * Math.PI);
      ctx.fillStyle = tokens.ground;
      ctx.fill();
      ctx.stroke();
      ctx.fillStyle = tokens.accent;
      if (step > 1.2) ctx.fillText(mark.side > 0 ? "L" : "S", px - 3, py + (mark.side > 0 ? 18 : -10));
    }
    ctx.restore();
  }
}
