/** Instruments with their facts, sessions and coverage. */
import { useQuery } from "@tanstack/react-query";
import { Upload } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { useCommands } from "../../lib/commands.ts";
import { count } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Button } from "../../ui/button.tsx";
import { Select, TextInput } from "../../ui/field.tsx";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { DemoWorld } from "./demo-world.tsx";
import { ImportDialog } from "./import-dialog.tsx";
import { MarketTable } from "./market-table.tsx";
import { MarketTools } from "./market-tools.tsx";
import { groupsOf, listIn, type MarketGroup, shownMarkets } from "./shown-markets.ts";

export function MarketsPage() {
  const { data, error } = useQuery(queries.markets());
  const { data: lists = [] } = useQuery(queries.instrumentLists());
  const [importing, setImporting] = useState(false);
  const [search, setSearch] = useState("");
  const [group, setGroup] = useKept<MarketGroup>("markets shown", "all");
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const groups = groupsOf(data ?? [], lists);
  // Case: the list that was shown last has gone.
  const shown = groups.some(([key]) => key === group) ? group : "all";
  const found = shownMarkets(data ?? [], lists, shown, search);
  const show = (next: MarketGroup): void => {
    setGroup(next);
    setTicked([]);
  };
  useCommands([{ id: "import", label: "Import a file of bars", act: () => setImporting(true) }]);
  return (
    <Page
      title="Markets"
      aside={
        <>
          <Link to="/sources" className="text-[13px] text-soft hover:text-ink">
            Sources
          </Link>
          <Link to="/storage" className="text-[13px] text-soft hover:text-ink">
            Storage
          </Link>
          <DemoWorld />
          <Button variant="primary" onClick={() => setImporting(true)}>
            <Upload size={14} aria-hidden /> Import bars
          </Button>
        </>
      }
    >
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="markets" /> : null}
      {data?.length === 0 ? (
        <Empty title="No instruments yet">Import a file of bars, or make the demo world, to have something to test on.</Empty>
      ) : null}
      {data && data.length > 0 ? (
        <>
          <div className="flex flex-wrap items-center gap-2 border-rule border-b px-3 py-1.5">
            <TextInput
              aria-label="Find instruments"
              placeholder="symbol, name or class"
              className="w-52"
              value={search}
              onChange={({ target }) => setSearch(target.value)}
            />
            <Select aria-label="Which instruments" className="w-auto" value={shown} onChange={({ target }) => show(target.value)}>
              {groups.map(([key, words]) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </Select>
            <span role="status" className="text-[13px] text-soft">
              {count(found.length, "instrument")}
            </span>
            <span className="flex-1" />
            <MarketTools
              {...{ markets: data, ticked, lists, list: listIn(lists, shown) }}
              onDone={() => setTicked([])}
              onShow={(list) => show(list ? `list ${list.id}` : "all")}
            />
          </div>
          {found.length > 0 ? (
            <MarketTable markets={found} ticked={ticked} onChosen={setTicked} />
          ) : (
            <Empty title="No instrument here">None has all of these words, or the list is empty.</Empty>
          )}
        </>
      ) : null}
      {importing ? <ImportDialog onClose={() => setImporting(false)} /> : null}
    </Page>
  );
}
