/** The part of what the venue says to all that is one watch's. */
import type { VenueWord } from "@plan-tester/core";
import type { Address, VenueWordMessage } from "@plan-tester/venue";

/** @param symbols that it trades. @returns null where nothing of it is the watch's */
export function ownWord(message: VenueWordMessage, address: Address, symbols: readonly string[]): VenueWord | null {
  if (message.type === "report") {
    const { number, event, left, account, timeMs } = message;
    return { type: "report", number, event, left, account, timeMs };
  }
  const account = message.accounts.find(({ account: id, owner }) => id === address.account && owner === address.owner)?.report ?? null;
  const { timeMs } = message;
  if (message.type === "opening") {
    const own = message.symbols.filter((symbol) => symbols.includes(symbol));
    return own.length > 0 ? { type: "opening", timeMs, symbols: own, account } : null;
  }
  if (message.type === "closing")
    return { type: "closing", timeMs, minutes: message.minutes.filter(({ symbol }) => symbols.includes(symbol)), account };
  return account && symbols.includes(message.symbol)
    ? { type: "price", timeMs, symbol: message.symbol, price: message.price, account }
    : null;
}
