/** What the heads of columns mean. */
export type NamedRole = "time" | "clock" | "zoneColumn" | "open" | "high" | "low" | "close" | "volume" | "spread" | TickRole;
export type TickRole = "price" | "bid" | "ask";

/** Heads as files spell them, without case, accents, brackets and signs. */
const NAMES: Readonly<Record<NamedRole, readonly string[]>> = {
  time: [
    ...["time", "date", "datetime", "timestamp", "open time", "date time", "ts", "start", "start time", "bar time", "day", "epoch", "unix"],
    ...["unix time", "gmt time", "utc time", "local time", "utc", "time utc", "date utc", "timestamp utc", "close time", "end", "end time"],
    ...["datum", "zeit", "fecha", "heure", "dt", "week", "month", "period", "trade date", "trading day", "session"],
    "index level 0",
  ],
  clock: ["time", "clock", "time of day", "hour", "bar time", "start time", "uhrzeit", "zeit", "hora", "heure", "hhmm", "hhmmss"],
  zoneColumn: ["zone", "time zone", "timezone", "tz", "utc offset", "offset", "gmt offset", "tz offset"],
  open: ["open", "o", "first", "op", "opening", "eroffnung", "eroffnungskurs", "apertura", "ouverture"],
  high: ["high", "h", "max", "maximum", "hi", "hoch", "tageshoch", "maximo", "haut", "plus haut"],
  low: ["low", "l", "min", "minimum", "lo", "tief", "tagestief", "minimo", "bas", "plus bas"],
  close: ["close", "c", "last", "cl", "closing", "settle", "schluss", "schlusskurs", "cierre", "cloture", "dernier"],
  volume: [
    ...["volume", "vol", "v", "tick volume", "tickvol", "tickvolume", "ticks", "quantity", "qty", "real volume", "base volume", "volumen"],
    ...["volume traded", "traded volume", "total volume", "umsatz", "contracts"],
  ],
  spread: ["spread", "bid ask spread", "ask bid spread"],
  price: ["price", "trade", "last", "last trade", "deal", "rate", "kurs", "mid"],
  bid: ["bid", "best bid", "geld"],
  ask: ["ask", "offer", "best ask", "best offer", "brief"],
};
/** The size of a trade; of bid and ask it is none. */
const SIZE_NAMES = ["size", "volume", "vol", "qty", "quantity", "trade size", "last size", "amount", "lots", "contracts"];

/** A head, plain: "<OPEN>", "Open (XSC)", "1. open", "Opening price" and "open_price" are all "open". */
export function plainName(head: string): string {
  const plain = head
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .toLowerCase()
    .replace(/[([][^)\]]*[)\]]/g, " ")
    .replace(/[^a-z0-9]+/g, " ")
    .trim()
    .replace(/^\d+ (?=[a-z])/, "")
    .replace(/(?<=.) (price|px)$/, "")
    .replace(/^(price|px) (?=open|high|low|close)/, "");
  return plain === "opening" ? "open" : plain === "closing" ? "close" : plain;
}

/** Columns of a trade's size, best name first. */
export const columnsOfSize = (names: readonly string[]): number[] =>
  SIZE_NAMES.flatMap((size) => names.flatMap((name, column) => (name === size ? [column] : [])));

/** Columns that a role's names fit, best name first. */
export function columnsNamed(names: readonly string[], role: NamedRole): number[] {
  const fits = NAMES[role];
  return names
    .flatMap((name, column) => (fits.includes(name) ? [{ column, rank: fits.indexOf(name) }] : []))
    .sort((a, b) => a.rank - b.rank)
    .map(({ column }) => column);
}
