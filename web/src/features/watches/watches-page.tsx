/** The desk: every watch, what they come to together, what waits for a word, and a way to stop everything. */
import type { WatchSummary } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useDecimals } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { count, money, number } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button, Key } from "../../ui/button.tsx";
import { TextInput } from "../../ui/field.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { type GridSort, useGrid } from "../../ui/grid/use-grid.ts";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { deskColumns } from "./desk-columns.tsx";
import { Holdings } from "./holdings.tsx";
import { Prompts } from "./prompts.tsx";
import { StopDialog } from "./stop-dialog.tsx";
import { VenueBar } from "./venue-bar.tsx";

const idOf = ({ id }: WatchSummary): string => id;
const ZONE = "Atlantic/Faroe";

export function WatchesPage() {
  const { data, error } = useQuery(queries.watches());
  const stopWatches = useChange("stopWatches");
  const [isStopping, setStopping] = useState(false);
  const active = data?.filter(({ state }) => state !== "ended") ?? [];
  const held = data?.filter(({ positions }) => positions.length > 0) ?? [];
  const canStop = active.length + held.length > 0;
  useCommands(canStop ? [{ id: "stop everything", label: "Stop every watch", keys: "Alt+Shift+s", act: () => setStopping(true) }] : []);
  return (
    <Page title="Watches" aside={<VenueBar />}>
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="watches" /> : null}
      {data?.length === 0 ? (
        <Empty title="Nothing is being watched">
          Open a plan and press Watch: it goes to work on the practice venue with the settings of its Bench.
        </Empty>
      ) : null}
      {data && data.length > 0 ? (
        <div className="flex h-full min-h-0 flex-col">
          <Prompts watches={active} />
          <Desk watches={data} held={held}>
            <Button variant="danger" disabled={!canStop} onClick={() => setStopping(true)}>
              Stop everything <Key>Alt Shift S</Key>
            </Button>
          </Desk>
        </div>
      ) : null}
      <Holdings />
      {isStopping ? (
        <StopDialog
          title="Stop every watch"
          open={
            held.length > 0
              ? `${count(held.length, "watch holds a position", "watches hold positions")}; what becomes of what is open?`
              : "Nothing is open; orders that wait are dealt with as chosen."
          }
          onClose={() => setStopping(false)}
          onStop={(leaving) => {
            setStopping(false);
            void stopWatches.run({}, { leaving });
          }}
        />
      ) : null}
    </Page>
  );
}

interface DeskProps {
  readonly watches: readonly WatchSummary[];
  readonly held: readonly WatchSummary[];
  readonly children: React.ReactNode;
}

function Desk({ watches, held, children }: DeskProps) {
  const navigate = useNavigate();
  const [sort, onSort] = useState<GridSort>({ key: "state", down: true });
  const [search, setSearch] = useState("");
  const [selected, setSelected] = useState<string | null>(null);
  const decimalsOf = useDecimals();
  const columns = useMemo(() => deskColumns(ZONE, decimalsOf), [decimalsOf]);
  const words = search.toLowerCase();
  const rows = watches.filter(({ name, planTitle, settings, state }) =>
    `${name} ${planTitle} ${settings.symbol} ${settings.timeframe} ${state}`.toLowerCase().includes(words),
  );
  const grid = useGrid({ rows, columns, idOf, name: "desk", firstHidden: ["mode", "trades"], sort, onSort });
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2 border-rule border-b px-4 py-2">
        <span>
          Open profit <Sums watches={watches} of={({ openProfit }) => openProfit} />
        </span>
        <span>
          Today <Sums watches={watches} of={({ netToday }) => netToday} />
        </span>
        <span>
          Closed <Sums watches={watches} of={({ net }) => net} />
        </span>
        <span title="Worth of all that is open, long and short alike, at the last prices">
          Exposure <Sums watches={watches} isPlain of={({ positions }) => positions.reduce((sum, { value }) => sum + value, 0)} />
        </span>
        <span className="text-soft">
          {held.length} of {number(watches.length)} in position
        </span>
        <div className="ml-auto flex flex-wrap items-center justify-end gap-x-4 gap-y-2">
          <TextInput
            aria-label="Search watches"
            placeholder="Name, market, state"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            className="w-44"
          />
          <Link to="/watches/alerts" className="text-accent hover:underline">
            Alerts
          </Link>
          <GridTools grid={grid} file="watches.csv" />
          {children}
        </div>
      </div>
      <Grid
        label="Watches"
        grid={grid}
        choice={{ selected, onSelect: setSelected, onOpen: (id) => void navigate(`/watches/${id}`), clickChooses: true }}
      />
    </>
  );
}

interface SumsProps {
  readonly watches: readonly WatchSummary[];
  readonly of: (watch: WatchSummary) => number;
  /** Neither gain nor loss. */
  readonly isPlain?: boolean;
}

/** Money of one currency is added up; different ones stand side by side. */
function Sums({ watches, of, isPlain }: SumsProps) {
  const sums = new Map<string, number>();
  for (const watch of watches) sums.set(watch.currency, (sums.get(watch.currency) ?? 0) + of(watch));
  return [...sums].map(([currency, sum]) => (
    <span key={currency} className="mr-1.5">
      {isPlain ? money(sum) : <Amount value={sum} />} {sums.size > 1 ? <span className="text-soft">{currency}</span> : null}
    </span>
  ));
}
