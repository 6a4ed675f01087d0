/** Layers of rows and grounds: condition strips, sessions, orders at their price. */
import { type Order, STRIP } from "@plan-tester/core";
import type { Frame, Layer } from "./layers.ts";

export interface NamedStrip {
  readonly label: string;
  readonly values: Uint8Array;
}

const FONT = "11px 'Atkinson Hyperlegible Next Variable', sans-serif";

/** One thin row a condition: a full band where it holds, a line where it does not, nothing where it is not known. */
export class StripLayer implements Layer {
  readonly #strips: readonly NamedStrip[];

  constructor(strips: readonly NamedStrip[]) {
    this.#strips = strips;
  }

  range(): null {
    return null;
  }

  paint({ ctx, x, y, step, from, to, left, tokens }: Frame): void {
    const rows = this.#strips.length;
    ctx.save();
    ctx.font = FONT;
    this.#strips.forEach(({ label, values }, row) => {
      const [top, bottom] = [y(rows - row) + 2, y(rows - row - 1) - 2];
      const middle = (top + bottom) / 2;
      const first = Math.max(0, from);
      const last = Math.min(values.length - 1, to);
      const width = Math.max(1, step);
      ctx.fillStyle = tokens.accent;
      const stride = Math.max(1, 1 / step);
      for (let start = first; start <= last; start += stride) {
        const [a, b] = [Math.floor(start), Math.max(Math.floor(start), Math.min(last, Math.floor(start + stride) - 1))];
        let most = STRIP.unknown as number;
        for (let i = a; i <= b && most !== STRIP.yes; i++) if (values[i]! > most) most = values[i]!;
        if (most === STRIP.yes) ctx.fillRect(x(a) - width / 2, top, width, bottom - top);
        else if (most === STRIP.no) ctx.fillRect(x(a) - width / 2, middle, width, 1);
      }
      const reach = ctx.measureText(label).width;
      ctx.fillStyle = tokens.sheet;
      ctx.globalAlpha = 0.88;
      ctx.fillRect(left, top - 1, reach + 8, bottom - top + 2);
      ctx.globalAlpha = 1;
      ctx.fillStyle = tokens.ink;
      ctx.textBaseline = "middle";
      ctx.fillText(label, left + 4, middle);
    });
    ctx.restore();
  }
}

/** Every other session on a darker ground, and a line where one begins: only while sessions are wide enough to tell. */
export class SessionLayer implements Layer {
  readonly #session: Int32Array;

  constructor(session: Int32Array) {
    this.#session = session;
  }

  range(): null {
    return null;
  }

  paint({ ctx, x, step, from, to, top, bottom, tokens }: Frame): void {
    const session = this.#session;
    const first = Math.max(0, from);
    const last = Math.min(session.length - 1, to);
    const sessions = session[last]! - session[first]! + 1;
    if (sessions > ((last - first) * step) / 24) return;
    ctx.save();
    ctx.fillStyle = tokens.sunk;
    let start = first;
    for (let i = first; i <= last; i++) {
      if (i < last && session[i + 1] === session[i]) continue;
      const [a, b] = [x(start) - step / 2, x(i) + step / 2];
      if (session[i]! % 2 === 1) ctx.fillRect(a, top, b - a, bottom - top);
      ctx.fillStyle = tokens.rule;
      ctx.fillRect(Math.round(b), top, 1, bottom - top);
      ctx.fillStyle = tokens.sunk;
      start = i + 1;
    }
    ctx.restore();
  }
}

/** Orders that waited at a price: a thin line over the bars on which they worked. */
export class OrderLayer implements Layer {
  readonly #orders: readonly Order[];
  readonly #last: number;

  /** @param last bar at which orders that still work are drawn to. */
  constructor(orders: readonly Order[], last: number) {
    this.#orders = orders.filter(({ price }) => Number.isFinite(price));
    this.#last = last;
  }

  range(): null {
    return null;
  }

  paint({ ctx, x, y, step, from, to, tokens }: Frame): void {
    if (step < 1.2) return;
    ctx.save();
    ctx.font = FONT;
    ctx.strokeStyle = tokens.soft;
    ctx.fillStyle = tokens.soft;
    ctx.lineWidth = 1;
    for (const { submittedBar, endBar, state, price, side, kind, intent } of this.#orders) {
      const end = state === "working" || endBar === undefined || endBar < 0 ? this.#last : endBar;
      if (end < from || submittedBar > to) continue;
      const [a, b, level] = [x(submittedBar), Math.max(x(end), x(submittedBar) + 3), Math.round(y(price)) + 0.5];
      ctx.setLineDash(kind === "limit" ? [7, 3] : [3, 3]);
      ctx.beginPath();
      ctx.moveTo(a, level);
      ctx.lineTo(b, level);
      ctx.stroke();
      // How it ended: filled by a dot, else by a small bar across.
      ctx.setLineDash([]);
      if (state === "filled") {
        ctx.beginPath();
        ctx.arc(b, level, 2.2, 0, 7);
        ctx.fill();
      } else if (state !== "working") ctx.fillRect(b, level - 3, 1, 6);
      if (step > 5 && b - a > 60)
        ctx.fillText(`${side > 0 ? "buy" : "sell"} ${kind}${intent === "exit" ? " to close" : ""}`, a + 3, level - 3);
    }
    ctx.restore();
  }
}
