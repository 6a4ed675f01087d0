import { type ClassNameValue, twMerge } from "tailwind-merge";

/** Joins class names, leaving out what is false; of two that set the same thing the later one counts. */
export const cx = (...names: ClassNameValue[]): string => twMerge(...names);
