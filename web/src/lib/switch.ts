import { useState } from "react";

/** Something that is on or off, and still is when one comes back another day. */
export function useSwitch(key: string): { readonly isOn: boolean; readonly toggle: () => void } {
  const [isOn, setOn] = useState(() => localStorage.getItem(key) === "on");
  const toggle = (): void => {
    localStorage.setItem(key, isOn ? "off" : "on");
    setOn(!isOn);
  };
  return { isOn, toggle };
}
