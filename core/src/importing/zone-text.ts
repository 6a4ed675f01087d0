/** Time zones as files name them: behind a time, or in a column of their own. */

/** Abbreviations that mean one offset wherever they are used, minutes east of UTC. Those with several meanings are refused. */
const ABBREVIATIONS: Readonly<Record<string, number>> = {
  ...{ Z: 0, UTC: 0, GMT: 0, UT: 0, WET: 0, WEST: 60, CET: 60, CEST: 120, EET: 120, EEST: 180, MSK: 180 },
  ...{ JST: 540, AEST: 600, AEDT: 660, NZST: 720, NZDT: 780, EDT: -240, CDT: -300, MDT: -360, PDT: -420 },
};

/**
 * @param text such as "Z", "+05:30", "UTC-3", "(CET)", "Atlantic/Faroe", or "+00:00[Atlantic/Faroe]", whose offset counts
 * @returns minutes east of UTC, an IANA name, or null for what names no zone
 */
export function zoneOf(text: string): number | string | null {
  const plain = text
    .trim()
    .replace(/^\((.*)\)$/, "$1")
    .replace(/^\[(.*)\]$/, "$1");
  const offset = /^(?:UTC|GMT|UT)? ?([+-])(\d{1,2})(?::?(\d{2}))?(?:\[[^\]]*\])?$/i.exec(plain);
  if (offset) {
    const [, sign, hours, minutes] = offset;
    const east = Number(hours) * 60 + Number(minutes ?? 0);
    return east > 14 * 60 || Number(minutes ?? 0) > 59 ? null : sign === "-" ? -east : east;
  }
  if (/^0+(?::00)?$/.test(plain)) return 0;
  const known = ABBREVIATIONS[plain.toUpperCase()];
  if (known !== undefined) return known;
  return plain.includes("/") && isZoneName(plain) ? plain : null;
}

export function isZoneName(name: string): boolean {
  try {
    new Intl.DateTimeFormat("en", { timeZone: name });
    return true;
  } catch {
    return false;
  }
}
