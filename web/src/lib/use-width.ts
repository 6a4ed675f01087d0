/** How wide an element is, in pixels, as it changes. */
import { type RefObject, useEffect, useState } from "react";

export function useWidth(box: RefObject<HTMLElement | null>, atFirst: number): number {
  const [width, setWidth] = useState(atFirst);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [box]);
  return width;
}
