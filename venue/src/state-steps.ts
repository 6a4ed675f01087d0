/** What the venue has written down, of whichever version, in the present form. */

/** Of the present form; a later one gets the next number, and a step to it. */
export const STATE_VERSION = 5;

type Plain = Readonly<Record<string, unknown>>;

interface Stored {
  readonly version?: number;
  readonly accounts: readonly Plain[];
}

interface OldAccount {
  readonly id: string;
  readonly instrument: unknown;
  readonly settings: unknown;
  readonly book: { readonly lots: readonly Plain[]; readonly orders?: readonly Plain[] };
  readonly clientIds?: readonly (readonly [number, number])[];
}

/** Moves of a stop that wait for a profit had another name once. */
function withPendingMoves(state: Stored): Stored {
  const renamed = ({ arms, ...lot }: Plain) => ({ ...lot, pendingMoves: arms ?? [] });
  const accounts = (state.accounts as unknown as readonly OldAccount[]).map((account) => ({
    ...account,
    book: { ...account.book, lots: account.book.lots.map(renamed) },
  }));
  return { ...state, accounts };
}

/** An account had one instrument and nobody whose orders were told apart: they are now those of the one it is named after. */
function withOwners(state: Stored): Stored {
  const accounts = (state.accounts as unknown as readonly OldAccount[]).map(({ id, instrument, settings, book, clientIds = [] }) => {
    const owned = (order: unknown) => ({ ...(order as Plain), owner: id });
    const lots = book.lots.map((lot) => ({ ...lot, order: owned(lot.order) }));
    const lastOrderId = clientIds.reduce((most, [, own]) => Math.max(most, own), 0);
    return {
      ...{ id, instruments: [instrument], settings, timeframe: "1m" },
      snapshot: {
        books: [{ ...book, lots, orders: (book.orders ?? []).map(owned) }],
        draws: 0,
        owners: [{ name: id, commandsDone: 0, lastOrderId, lastOwnId: 0, reports: 0 }],
        numbers: clientIds.map(([number, own]) => [number, { owner: id, id: own }]),
        dates: [null],
        marks: [Number.NaN],
      },
      reports: [],
    };
  });
  return { ...state, accounts };
}

/** Minutes went along their paths at their end only: none was under way. */
function withMinutes(state: Stored): Stored {
  const accounts = (state.accounts as unknown as readonly { readonly snapshot: Plain }[]).map(({ snapshot, ...account }) => {
    const books = (snapshot.books as readonly Plain[]).map((book) => ({ ...book, place: null }));
    return { ...account, snapshot: { ...snapshot, books, minutes: [], last: [], asked: [] } };
  });
  return { ...state, legs: null, accounts } as Stored;
}

/** Prices did not jump. */
const withJumps = (state: Stored): Stored => ({ ...state, jumps: [] }) as Stored;

/** By the version that they bring up. */
const STEPS: Readonly<Record<number, (state: Stored) => Stored>> = { 1: withPendingMoves, 2: withOwners, 3: withMinutes, 4: withJumps };

/** @throws Error where a later version has written it. */
export function broughtUp(state: Stored): Stored {
  const { version = 1 } = state;
  if (version > STATE_VERSION) throw new Error(`a later version of Plan Tester wrote it (${version}; this one knows ${STATE_VERSION})`);
  let current = state;
  for (let from = version; from < STATE_VERSION; from++) current = { ...STEPS[from]!(current), version: from + 1 };
  return current;
}
