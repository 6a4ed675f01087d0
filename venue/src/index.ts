export type { AccountReport, VenueBar, VenueClock, VenueMessage } from "./protocol.ts";
export type { OrderChange } from "./requests.ts";
export type { LotState } from "./types.ts";
