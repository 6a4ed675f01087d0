/** Kept runs among thousands: found by words, filters and tags, in the order of any figure, with columns of one's choice. */
import { MAX_BLEND_MEMBERS, type RunQuery, type RunSummary } from "@plan-tester/contract";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { queries } from "../../data/queries.ts";
import { useDelete } from "../../data/use-delete.ts";
import { useCommands } from "../../lib/commands.ts";
import { count } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Button } from "../../ui/button.tsx";
import { Select, TextInput } from "../../ui/field.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { SaveBundle } from "../bundles/save-bundle.tsx";
import { MOST_COMPARED } from "../compare/use-compared.ts";
import { useNewBlend } from "../run-view/new-blend.ts";
import { useRunGrid } from "./run-list.tsx";

const FIRST_QUERY: Partial<RunQuery> = { sort: "createdMs", order: "down" };

export function RunsPage() {
  const [query, setQuery] = useKept<Partial<RunQuery>>("run query", FIRST_QUERY);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [isBundling, setBundling] = useState(false);
  const [selected, setSelected] = useKept<string | null>("run that was looked at", null);
  const search = useDeferredValue(query.search ?? "");
  const pages = useInfiniteQuery(queries.runPages({ ...query, search }));
  const facets = useQuery(queries.runFacets()).data;
  const navigate = useNavigate();
  const remove = useDelete();
  const blend = useNewBlend();
  const runs = useMemo(() => pages.data?.pages.flatMap((page) => page.runs) ?? [], [pages.data]);
  const total = pages.data?.pages[0]?.total ?? 0;
  const change = (part: Partial<RunQuery>): void => setQuery({ ...query, ...part });
  const grid = useRunGrid({
    ...{ runs, total, chosen, query, onChosen: setChosen, onSort: change },
    onDelete: ({ id, name }) => void remove("run", id, name),
  });
  const compare = (): void => void navigate(`/compare?runs=${chosen.join(",")}`);
  useCommands(chosen.length > 1 ? [{ id: "compare", label: `Compare ${chosen.length} runs`, keys: "Alt+k", act: compare }] : []);
  const isSearching = Boolean(query.search || query.plan || query.symbol || query.tag);
  return (
    <Page
      title="Kept runs"
      aside={
        <>
          <TextInput
            aria-label="Search runs"
            placeholder="Search name, plan, instrument, note"
            value={query.search ?? ""}
            onChange={(event) => change({ search: event.target.value })}
            className="w-60"
          />
          {(["plan", "symbol", "tag"] as const).map((name) => (
            <Select
              key={name}
              aria-label={`Only one ${name === "symbol" ? "instrument" : name}`}
              className="w-auto max-w-40"
              value={query[name] ?? ""}
              onChange={(event) => change({ [name]: event.target.value })}
            >
              <option value="">every {name === "symbol" ? "instrument" : name}</option>
              {facets?.[name === "plan" ? "plans" : name === "symbol" ? "symbols" : "tags"].map(({ value, label, runs: count }) => (
                <option key={value} value={value}>
                  {label} ({count})
                </option>
              ))}
            </Select>
          ))}
          <GridTools grid={grid} file="runs.csv" />
          <Button
            disabled={chosen.length === 0}
            onClick={() => setBundling(true)}
            title="Save the chosen runs with all that belongs to them as one file"
          >
            Bundle {chosen.length > 0 ? chosen.length : ""}
          </Button>
          <Button
            disabled={chosen.length === 0 || chosen.length > MAX_BLEND_MEMBERS}
            onClick={() => void blend(chosen)}
            title="Set the chosen runs on one account, with sizes"
          >
            Blend {chosen.length > 0 ? chosen.length : ""}
          </Button>
          <Button
            variant="primary"
            disabled={chosen.length < 2 || chosen.length > MOST_COMPARED}
            onClick={compare}
            title="Choose two to eight runs"
          >
            Compare {chosen.length > 0 ? chosen.length : ""}
          </Button>
        </>
      }
    >
      {pages.error ? <Failure error={pages.error} /> : null}
      {!pages.data && !pages.error ? <Loading what="runs" /> : null}
      {pages.data && total === 0 && !isSearching ? (
        <Empty title="No run is kept yet">Run a plan on its Bench and press Keep. A kept run holds everything that made it.</Empty>
      ) : null}
      {pages.data && total === 0 && isSearching ? <Empty title="Nothing found">No run matches what is looked for.</Empty> : null}
      {total > 0 ? (
        <div className="flex h-full min-h-0 flex-col">
          <Grid
            label="Kept runs"
            grid={grid}
            choice={{ selected, onSelect: setSelected, onOpen: (id) => void navigate(`/runs/${id}`), clickChooses: true }}
            total={total}
            onMore={() => pages.hasNextPage && !pages.isFetchingNextPage && void pages.fetchNextPage()}
          />
        </div>
      ) : null}
      {isBundling ? <SaveBundle title={bundleTitle(runs, chosen)} plans={[]} runs={chosen} onClose={() => setBundling(false)} /> : null}
    </Page>
  );
}

/** The plan's name where there is one, else how many there are. */
function bundleTitle(runs: readonly RunSummary[], chosen: readonly string[]): string {
  const titles = new Set(runs.flatMap(({ id, planTitle }) => (chosen.includes(id) ? planTitle : [])));
  return titles.size === 1 ? [...titles][0]! : count(chosen.length, "run");
}
