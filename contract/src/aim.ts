/** The aim of a sweep or walk-forward: a figure's name says enough where nothing else is wanted. */
import type { Aim, SweepFigure } from "@plan-tester/core";
import type { SweepRequest } from "./schemas.ts";

/** One figure, of the setting alone, without conditions. */
export const plainAim = (figure: SweepFigure): Aim => ({ terms: [{ figure, weight: 1 }], robust: false, conditions: [] });

/** The whole aim, whichever way it is written. */
export const aimOf = (aim: SweepRequest["aim"]): Aim => (typeof aim === "string" ? plainAim(aim) : aim);
