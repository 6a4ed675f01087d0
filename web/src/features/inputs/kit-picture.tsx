/** Where the exits of a kit lie for a long and a short entered at the last close of the period; each can be dragged. */
import { type ExitKit, type KitExits, type KitHandle, type KitLevel, kitLevels, withLevelAt } from "@plan-tester/core";
import { useState } from "react";
import { priceText } from "../../lib/format.ts";
import { KitSide, PICTURE_HEIGHT } from "./kit-side.tsx";
import { useKitToday } from "./kit-today.tsx";

const MARGIN = 14;

interface Scale {
  readonly low: number;
  readonly high: number;
}

export interface KitPictureProps {
  readonly kit: ExitKit;
  readonly onChange: (side: "long" | "short", exits: KitExits) => void;
}

export function KitPicture({ kit, onChange }: KitPictureProps) {
  const today = useKitToday();
  /** Exits of a side while one of its levels is being dragged, on the scale of before. */
  const [dragged, setDragged] = useState<{ readonly side: 1 | -1; readonly exits: KitExits; readonly scale: Scale } | null>(null);
  if (!today) return null;
  const sides = ([1, -1] as const).flatMap((side) => {
    const exits = side > 0 ? kit.long : kit.short;
    if (!exits || kit.sides === (side > 0 ? "short" : "long")) return [];
    return [{ side, exits, levels: kitLevels(dragged?.side === side ? dragged.exits : exits, side, today) }];
  });
  const prices = [
    today.price,
    ...sides.flatMap(({ levels }) => levels.flatMap(({ price, stop }) => (stop === null ? [price] : [price, stop]))),
  ];
  if (prices.length < 2) return null;
  const { low, high } = dragged?.scale ?? { low: Math.min(...prices), high: Math.max(...prices) };
  const room = PICTURE_HEIGHT - 2 * MARGIN;
  const y = (price: number): number => MARGIN + room * (high > low ? (high - price) / (high - low) : 0.5);
  const priceAt = (at: number): number => high - ((at - MARGIN) / room) * (high - low || today.instrument.tickSize);
  return (
    <figure className="flex flex-col gap-1 text-[12px]">
      <figcaption className="text-soft">
        An entry at {priceText(today.price, today.decimals)}, the last close of the period, for one unit of {today.instrument.symbol}. Drag
        a level, or move it by the arrow keys.
      </figcaption>
      <div className="grid grid-cols-2 gap-3">
        {sides.map(({ side, exits, levels }) => {
          const taken = (level: KitLevel, handle: KitHandle, price: number): KitExits =>
            withLevelAt(exits, level, handle, price, side, today);
          return (
            <KitSide
              key={side}
              {...{ side, levels, today, y, priceAt }}
              onDrag={(...to) => setDragged({ side, exits: taken(...to), scale: { low, high } })}
              onCancel={() => setDragged(null)}
              onMove={(...to) => {
                setDragged(null);
                onChange(side > 0 ? "long" : "short", taken(...to));
              }}
            />
          );
        })}
      </div>
    </figure>
  );
}
