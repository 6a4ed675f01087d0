export type {
  Address,
  ClientMessage,
  FollowedMessage,
  OwnerHolding,
  OwnerReport,
  VenueAnswer,
  VenueClock,
  VenueMessage,
  VenueWordMessage,
} from "./protocol.ts";
export { readAccount, readReport } from "./wire.ts";
