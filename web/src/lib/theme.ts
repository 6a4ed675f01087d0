/** Paper or night, kept in the browser; charts ask for the current colours and hear of changes. */
import { useSyncExternalStore } from "react";
import { remembered } from "./site-data.ts";

export type Theme = "paper" | "night";

const listeners = new Set<() => void>();

export function currentTheme(): Theme {
  return document.documentElement.dataset.theme === "night" ? "night" : "paper";
}

export function setTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme;
  remembered.setItem("theme", theme);
  for (const listener of listeners) listener();
}

export function useTheme(): Theme {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, currentTheme);
}

const TOKENS = [
  "ground",
  "sheet",
  "sunk",
  "ink",
  "soft",
  "faint",
  "rule",
  "accent",
  "accent-wash",
  "gain",
  "gain-wash",
  "loss",
  "loss-wash",
] as const;
export type Tokens = Readonly<Record<(typeof TOKENS)[number], string>>;

/** The values of the colour tokens now, for drawing on canvas. */
export function readTokens(): Tokens {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(TOKENS.map((token) => [token, style.getPropertyValue(`--${token}`).trim()])) as unknown as Tokens;
}
