/** Time zones that are offered: UTC, that of the demo world, and all that the browser knows. */
export const ZONES: readonly string[] = [...new Set(["UTC", "Atlantic/Faroe", ...Intl.supportedValuesOf("timeZone")])];
