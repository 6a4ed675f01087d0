/** Where the exits of a kit lie for a long and a short entered at the last close of the period. */
import { type ExitKit, type KitLevel, kitLevels } from "@plan-tester/core";
import { number, priceText, signed } from "../../lib/format.ts";
import { type KitToday, useKitToday } from "./kit-today.tsx";

const HEIGHT = 200;
const MARGIN = 14;
const LINE = 13;

const nameOf = ({ what, number: of, stop }: KitLevel, decimals: number): string =>
  `${of > 0 ? `lock ${of}` : what}${stop === null ? "" : `: stop to ${priceText(stop, decimals)}`}`;

/** Texts of lines that lie close are moved apart, in the order of their prices. */
function spreadOut(wanted: readonly number[]): number[] {
  const order = wanted.map((_y, i) => i).sort((a, b) => wanted[a]! - wanted[b]!);
  const placed = [...wanted];
  order.forEach((at, k) => {
    const before = order[k - 1];
    if (before !== undefined) placed[at] = Math.max(placed[at]!, placed[before]! + LINE);
  });
  const over = Math.max(0, Math.max(...placed) - (HEIGHT - 4));
  return placed.map((y) => y - over);
}

export function KitPicture({ kit }: { readonly kit: ExitKit }) {
  const today = useKitToday();
  if (!today) return null;
  const sides = ([1, -1] as const).flatMap((side) => {
    const exits = side > 0 ? kit.long : kit.short;
    return exits && kit.sides !== (side > 0 ? "short" : "long") ? [{ side, levels: kitLevels(exits, side, today) }] : [];
  });
  const prices = [
    today.price,
    ...sides.flatMap(({ levels }) => levels.flatMap(({ price, stop }) => (stop === null ? [price] : [price, stop]))),
  ];
  if (prices.length < 2) return null;
  const [low, high] = [Math.min(...prices), Math.max(...prices)];
  const y = (price: number): number => MARGIN + (HEIGHT - 2 * MARGIN) * (high > low ? (high - price) / (high - low) : 0.5);
  return (
    <figure className="flex flex-col gap-1 text-[12px]">
      <figcaption className="text-soft">
        An entry at {priceText(today.price, today.decimals)}, the last close of the period, for one unit of {today.instrument.symbol}
      </figcaption>
      <div className="grid grid-cols-2 gap-3">
        {sides.map(({ side, levels }) => (
          <Side key={side} {...{ side, levels, today, y }} />
        ))}
      </div>
    </figure>
  );
}

interface SideProps {
  readonly side: 1 | -1;
  readonly levels: readonly KitLevel[];
  readonly today: KitToday;
  readonly y: (price: number) => number;
}

function Side({ side, levels, today, y }: SideProps) {
  const { price: entry, decimals } = today;
  const lines = [{ key: "entry", price: entry, tone: "text-ink", text: side > 0 ? "long" : "short" }].concat(
    levels.map((level) => ({
      key: `${level.what} ${level.number}`,
      price: level.price,
      tone: level.move < 0 ? "text-loss" : "text-gain",
      // Where a stop is moved its own place says enough.
      text: `${nameOf(level, decimals)}${level.stop === null ? ` ${signed(level.money, Math.abs(level.money) < 10 ? 2 : 0)}` : ""}`,
    })),
  );
  const texts = spreadOut(lines.map(({ price }) => y(price)));
  return (
    <div
      role="img"
      aria-label={`${side > 0 ? "Long" : "Short"}: ${lines.map(({ text, price }) => `${text} at ${number(price, decimals)}`).join("; ")}`}
      className="relative rounded-sm bg-sunk"
      style={{ height: HEIGHT }}
    >
      {lines.map(({ key, price, tone, text }, i) => (
        <div key={key} className={tone}>
          <span className="absolute left-0 w-8 border-current border-t-2" style={{ top: y(price) }} />
          <span className="absolute right-1 left-10 flex justify-between gap-1 whitespace-nowrap leading-3" style={{ top: texts[i]! - 6 }}>
            <span className="truncate" title={text}>
              {text}
            </span>
            <span className="tabular-nums">{priceText(price, decimals)}</span>
          </span>
        </div>
      ))}
    </div>
  );
}
