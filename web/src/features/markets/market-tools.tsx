/** What is done with the instruments that are ticked, and with the list of one's own that is shown. */
import type { InstrumentList, Market } from "@plan-tester/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useChange } from "../../data/use-change.ts";
import { count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { ListName } from "./list-name.tsx";

/** For as long the way back is offered, milliseconds. */
const OFFER_MS = 12_000;

export interface MarketToolsProps {
  readonly markets: readonly Market[];
  readonly ticked: readonly string[];
  readonly lists: readonly InstrumentList[];
  /** The one that is shown. */
  readonly list: InstrumentList | undefined;
  readonly onDone: () => void;
  /** Shows a list, or all. */
  readonly onShow: (list: InstrumentList | null) => void;
}

export function MarketTools({ markets, ticked, lists, list, onDone, onShow }: MarketToolsProps) {
  const [naming, setNaming] = useState<"keep" | "rename" | null>(null);
  const shelve = useChange("shelveMarkets");
  const replace = useChange("replaceInstrumentList");
  const remove = useChange("deleteInstrumentList");
  const create = useChange("createInstrumentList");
  const isArchived = markets.some(({ instrument, isArchived: away }) => away && ticked.includes(instrument.symbol));

  const shelf = async (away: boolean, symbols = ticked): Promise<void> => {
    if (!(await shelve.run({}, { symbols: [...symbols], isArchived: away }))) return;
    onDone();
    if (away)
      toast(`${count(symbols.length, "instrument")} archived: runs and plans keep it, nothing offers it`, {
        ...{ duration: OFFER_MS, action: { label: "Undo", onClick: () => void shelf(false, symbols) } },
      });
  };
  const put = async (symbols: readonly string[]): Promise<void> => {
    if (list && (await replace.run({ id: list.id }, { name: list.name, symbols: [...symbols] }))) onDone();
  };
  const removeList = async ({ id, name, symbols }: InstrumentList): Promise<void> => {
    if (!(await remove.run({ id }))) return;
    onShow(null);
    const undo = (): void => void create.run({}, { name, symbols: [...symbols] });
    toast(`The list “${name}” was deleted, its instruments are there`, { duration: OFFER_MS, action: { label: "Undo", onClick: undo } });
  };
  return (
    <>
      {ticked.length > 0 ? (
        <>
          <Button onClick={() => setNaming("keep")}>Keep {count(ticked.length, "instrument")} as a list</Button>
          {list ? (
            <Button onClick={() => void put(list.symbols.filter((symbol) => !ticked.includes(symbol)))}>Remove from this list</Button>
          ) : null}
          <Button onClick={() => void shelf(!isArchived)}>{isArchived ? "Bring back" : "Archive"}</Button>
        </>
      ) : list ? (
        <>
          <Button variant="quiet" onClick={() => setNaming("rename")}>
            Rename
          </Button>
          <Button variant="quiet" onClick={() => void removeList(list)}>
            Delete the list
          </Button>
        </>
      ) : null}
      {naming ? (
        <ListName
          lists={lists}
          symbols={naming === "keep" ? ticked : (list?.symbols ?? [])}
          renamed={naming === "rename" ? list : undefined}
          onClose={() => setNaming(null)}
          onKept={(kept) => {
            setNaming(null);
            onDone();
            onShow(kept);
          }}
        />
      ) : null}
    </>
  );
}
