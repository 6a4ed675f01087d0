export type { AccountReport, VenueBar, VenueClock, VenueMessage } from "./protocol.ts";
