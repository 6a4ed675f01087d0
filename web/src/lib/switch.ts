import { useState } from "react";
import { remembered } from "./site-data.ts";

/** Something that is on or off, and still is when one comes back another day. */
export function useSwitch(key: string): { readonly isOn: boolean; readonly toggle: () => void } {
  const [isOn, setOn] = useState(() => remembered.getItem(key) === "on");
  const toggle = (): void => {
    remembered.setItem(key, isOn ? "off" : "on");
    setOn(!isOn);
  };
  return { isOn, toggle };
}
