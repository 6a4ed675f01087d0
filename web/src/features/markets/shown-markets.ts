/** Which instruments a list shows: by class, by a list of one's own, put out of the way, and as one types. */
import type { InstrumentList, Market } from "@plan-tester/contract";

/** "all", "archived", "class future", "list a1b2c3d4". */
export type MarketGroup = string;
export const ARCHIVED = "archived";

export const listIn = (lists: readonly InstrumentList[], group: MarketGroup): InstrumentList | undefined =>
  lists.find(({ id }) => group === `list ${id}`);

/** The groups that there are, with their words. */
export function groupsOf(markets: readonly Market[], lists: readonly InstrumentList[]): (readonly [group: MarketGroup, words: string])[] {
  const shown = markets.filter(({ isArchived }) => !isArchived);
  const classes = [...new Set(shown.map(({ instrument }) => instrument.class))];
  const archived = markets.length - shown.length;
  return [
    ["all", "all instruments"],
    ...classes.map((kind) => [`class ${kind}`, `every ${kind}`] as const),
    ...lists.map(({ id, name }) => [`list ${id}`, name] as const),
    ...(archived > 0 ? [[ARCHIVED, `archived (${archived})`] as const] : []),
  ];
}

/** Words are looked for in symbol, name, class and note; all must be there. */
export function shownMarkets(markets: readonly Market[], lists: readonly InstrumentList[], group: MarketGroup, search: string): Market[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const list = listIn(lists, group);
  return markets.filter(({ instrument, isArchived }) => {
    const { symbol, name, note } = instrument;
    if (list ? !list.symbols.includes(symbol) : isArchived !== (group === ARCHIVED)) return false;
    if (group.startsWith("class ") && group !== `class ${instrument.class}`) return false;
    const text = `${symbol} ${name} ${instrument.class} ${note}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/** What is offered where an instrument is chosen: not what is archived, but for what is chosen already. */
export const offeredMarkets = (markets: readonly Market[], chosen: readonly string[] = []): Market[] =>
  markets.filter(({ instrument, isArchived }) => !isArchived || chosen.includes(instrument.symbol));
