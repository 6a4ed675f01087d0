/** What the venue has written down, of whichever version, in the present form. */

/** Of the present form; a later one gets the next number, and a step to it. */
export const STATE_VERSION = 2;

interface Stored {
  readonly version?: number;
  readonly accounts: readonly { readonly book: { readonly lots: readonly Readonly<Record<string, unknown>>[] } }[];
}

/** Moves of a stop that wait for a profit had another name once. */
function withPendingMoves(state: Stored): Stored {
  const renamed = ({ arms, ...lot }: Readonly<Record<string, unknown>>) => ({ ...lot, pendingMoves: arms ?? [] });
  return {
    ...state,
    accounts: state.accounts.map((account) => ({ ...account, book: { ...account.book, lots: account.book.lots.map(renamed) } })),
  };
}

/** By the version that they bring up. */
const STEPS: Readonly<Record<number, (state: Stored) => Stored>> = { 1: withPendingMoves };

/** @throws Error where a later version has written it. */
export function broughtUp(state: Stored): Stored {
  const { version = 1 } = state;
  if (version > STATE_VERSION) throw new Error(`a later version of Plan Tester wrote it (${version}; this one knows ${STATE_VERSION})`);
  let current = state;
  for (let from = version; from < STATE_VERSION; from++) current = { ...STEPS[from]!(current), version: from + 1 };
  return current;
}
