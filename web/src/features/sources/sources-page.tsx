/** Where new bars come from by themselves, and what came. */
import type { Source, SourceLogEntry } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { Plus, RefreshCw } from "lucide-react";
import { Fragment, useState } from "react";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useDelete } from "../../data/use-delete.ts";
import { useCommands } from "../../lib/commands.ts";
import { count, HERE, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Page, td, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { SourceDialog } from "./source-dialog.tsx";

export function SourcesPage() {
  const { data, error } = useQuery(queries.sources());
  const [isAdding, setAdding] = useState(false);
  useCommands([{ id: "add-source", label: "Add a source of bars", act: () => setAdding(true) }]);
  return (
    <Page
      title="Sources"
      aside={
        <Button variant="primary" onClick={() => setAdding(true)}>
          <Plus size={14} aria-hidden /> Add a source
        </Button>
      }
    >
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="the sources" /> : null}
      {data?.length === 0 ? (
        <Empty title="No sources yet">
          A source brings new bars of an instrument by itself: from the files of a folder, or from an address that is asked for each day.
          Import one file of the instrument first; the others are read like it.
        </Empty>
      ) : null}
      {data && data.length > 0 ? (
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>Source</th>
              <th className={th}>Brings</th>
              <th className={th}>Last</th>
              <th className={th} />
            </tr>
          </thead>
          <tbody>
            {data.map((source) => (
              <SourceRow key={source.id} source={source} />
            ))}
          </tbody>
        </table>
      ) : null}
      {isAdding ? <SourceDialog onClose={() => setAdding(false)} /> : null}
    </Page>
  );
}

const everyWords = (minutes: number): string =>
  minutes % 1440 === 0
    ? `every ${minutes === 1440 ? "day" : count(minutes / 1440, "day")}`
    : minutes % 60 === 0
      ? `every ${minutes === 60 ? "hour" : count(minutes / 60, "hour")}`
      : `every ${minutes === 1 ? "minute" : count(minutes, "minute")}`;

function SourceRow({ source }: { readonly source: Source }) {
  const { id, name, kind, place, symbol, everyMinutes, overlap, isOn, isLooking, lookedMs, last } = source;
  const [isOpen, setOpen] = useState(false);
  const turn = useChange("turnSource");
  const look = useChange("lookAtSource");
  const remove = useDelete();
  return (
    <Fragment>
      <tr className="border-rule border-t">
        <td className={td}>
          <strong>{name}</strong> <span className="text-soft">{isOn ? everyWords(everyMinutes) : "off"}</span>
          <br />
          <span className="text-[13px] text-soft [overflow-wrap:anywhere]">
            {kind === "folder" ? "folder" : "address"} {place}
          </span>
        </td>
        <td className={td}>
          <Link to={`/markets/${encodeURIComponent(symbol)}`} className="hover:underline">
            {symbol}
          </Link>
          <br />
          <span className="text-[13px] text-soft">{overlap === "keep" ? "what differs stays as it is" : "what differs is taken"}</span>
        </td>
        <td className={td}>
          {isLooking || look.isRunning ? "looking …" : lookedMs === 0 ? "not looked at yet" : `looked at ${timeAt(lookedMs, HERE)}`}
          <br />
          <LastWords entry={last} />
        </td>
        <td className={cx(td, "whitespace-nowrap text-right")}>
          <Button variant="quiet" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            Log
          </Button>
          <Button variant="quiet" disabled={isLooking || look.isRunning} onClick={() => void look.run({ id })}>
            <RefreshCw size={13} aria-hidden /> Look now
          </Button>
          <Button variant="quiet" onClick={() => void turn.run({ id }, { isOn: !isOn })}>
            {isOn ? "Turn off" : "Turn on"}
          </Button>
          <Button variant="quiet" onClick={() => void remove("source", id, name)}>
            Delete
          </Button>
        </td>
      </tr>
      {isOpen ? (
        <tr>
          <td colSpan={4} className="px-4 pb-3">
            <SourceLog id={id} />
          </td>
        </tr>
      ) : null}
    </Fragment>
  );
}

const lookOf = (outcome: SourceLogEntry["outcome"]): string =>
  outcome === "failed" ? "text-loss" : outcome === "added" ? "" : "text-soft";

function LastWords({ entry }: { readonly entry: SourceLogEntry | null }) {
  return entry ? <span className={cx("text-[13px] [overflow-wrap:anywhere]", lookOf(entry.outcome))}>{entry.text}</span> : null;
}

function SourceLog({ id }: { readonly id: string }) {
  const { data, error } = useQuery(queries.sourceLog(id));
  if (error) return <Failure error={error} />;
  if (!data) return <Loading what="the log" />;
  if (data.length === 0) return <p className="text-soft">Nothing has come yet.</p>;
  return (
    <ul aria-label="Log" className="max-h-72 overflow-auto text-[13px]">
      {data.map(({ item, outcome, text, atMs }) => (
        <li key={`${atMs} ${item}`} className={cx("border-rule/60 border-b py-0.5", lookOf(outcome))}>
          <span className="inline-block w-36 text-soft">{timeAt(atMs, HERE)}</span> {text}
        </li>
      ))}
    </ul>
  );
}
