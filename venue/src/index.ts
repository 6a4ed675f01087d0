export type {
  Address,
  ClientMessage,
  FollowedMessage,
  OwnerHolding,
  OwnerReport,
  SymbolMinute,
  VenueAnswer,
  VenueClock,
  VenueMessage,
  VenueWordMessage,
} from "./protocol.ts";
export { readAccount, readReport } from "./wire.ts";
