/** Everything that a watch did, newest first: who or what did it, by kind and by words, as far back as it goes. */
import { ALERT_LEVELS, type EventsQuery, type WatchDetail, type WatchEvent } from "@plan-tester/contract";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useDeferredValue, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { call } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { delimited } from "../../lib/cells.ts";
import { saveFile } from "../../lib/files.ts";
import { count, number } from "../../lib/format.ts";
import { At } from "../../ui/at.tsx";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Select, TextInput } from "../../ui/field.tsx";
import { Menu } from "../../ui/menu.tsx";

const KINDS: readonly EventsQuery["kind"][] = ["", "state", "order", "fill", "trade", "prompt", "log", "error"];
const ROW = 24;
const MOST_IN_A_FILE = 20_000;
const AUDIT_FIELDS = ["id", "timeMs", "atMs", "by", "kind", "level", "cause", "text"] as const;

const tones: Readonly<Partial<Record<WatchEvent["kind"], string>>> = {
  error: "text-loss",
  trade: "text-ink font-semibold",
  fill: "text-ink",
  state: "text-accent font-semibold",
  prompt: "text-warn font-semibold",
};
const levels: Readonly<Partial<Record<WatchEvent["level"], string>>> = { warning: "text-warn", alert: "text-warn font-semibold" };

export function WatchLog({ watch, zone }: { readonly watch: WatchDetail; readonly zone: string }) {
  const [kind, setKind] = useState<EventsQuery["kind"]>("");
  const [level, setLevel] = useState<EventsQuery["level"]>("");
  const [search, setSearch] = useState("");
  const words = useDeferredValue(search);
  const pages = useInfiniteQuery(queries.watchEvents(watch.id, { kind, level, search: words }));
  const events = pages.data?.pages.flatMap((page) => page.events) ?? [];
  const total = pages.data?.pages[0]?.total ?? 0;
  const save = async (as: "json" | "csv"): Promise<void> => {
    const { events: all } = await call("getWatchEvents", { id: watch.id, limit: MOST_IN_A_FILE });
    if (total > all.length) toast.warning(`The file has the last ${number(all.length)} of ${number(total)} entries.`);
    if (as === "json") return saveFile(`${watch.name} audit.json`, JSON.stringify(all, null, 2), "application/json");
    const rows = all.map((event) =>
      AUDIT_FIELDS.map((field) => (field.endsWith("Ms") ? new Date(Number(event[field])).toISOString() : event[field])),
    );
    saveFile(`${watch.name} audit.csv`, delimited(AUDIT_FIELDS, rows, ","));
  };
  return (
    <section aria-label="What happened" className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-2 border-rule border-b px-3 py-1.5">
        <Select
          aria-label="Only one kind"
          className="w-auto"
          value={kind}
          onChange={(event) => {
            setKind(event.target.value as EventsQuery["kind"]);
            setLevel("");
          }}
        >
          {KINDS.map((one) => (
            <option key={one} value={one}>
              {one || "everything"}
            </option>
          ))}
        </Select>
        {kind === "" || kind === "log" ? (
          <Select
            aria-label="Least level of the log"
            className="w-auto"
            value={level}
            onChange={(event) => setLevel(event.target.value as EventsQuery["level"])}
          >
            <option value="">any level</option>
            {ALERT_LEVELS.slice(1).map((one) => (
              <option key={one} value={one}>
                {one === "alert" ? "log: alerts" : `log: ${one} and above`}
              </option>
            ))}
          </Select>
        ) : null}
        <TextInput
          aria-label="Search what happened"
          placeholder="Search"
          className="w-40"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <span className="flex-1 text-[13px] text-soft">{count(total, "entry", "entries")}</span>
        <Menu
          trigger={
            <Button variant="quiet" title="Who or what did each thing, and when">
              Save the audit
            </Button>
          }
          items={[
            { label: "As CSV", act: () => void save("csv") },
            { label: "As JSON", act: () => void save("json") },
          ]}
        />
      </div>
      <Rows events={events} total={total} zone={zone} onMore={() => void pages.fetchNextPage()} />
    </section>
  );
}

interface RowsProps {
  readonly events: readonly WatchEvent[];
  readonly total: number;
  readonly zone: string;
  readonly onMore: () => void;
}

function Rows({ events, total, zone, onMore }: RowsProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    ...{ count: events.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 },
    getItemKey: (index) => events[index]!.id,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for as one scrolls there
  useEffect(() => {
    if (last >= events.length - 1 && events.length < total) onMore();
  }, [last, events.length, total]);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls is scrolled by keys
    <div ref={scroller} tabIndex={0} className="min-h-60 flex-1 overflow-auto font-mono text-[12px]">
      <ol style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {items.map(({ index, start }) => {
          const event = events[index]!;
          return (
            <li
              key={event.id}
              ref={virtual.measureElement}
              data-index={index}
              className="absolute top-0 left-0 flex w-full gap-3 border-rule/60 border-b px-3 py-0.5"
              style={{ transform: `translateY(${start}px)` }}
            >
              <At className="w-36 shrink-0 text-soft" ms={event.timeMs} zone={zone} />
              <span className="w-24 shrink-0 truncate text-soft" title={`${event.kind}, by ${event.by || "the watch"}`}>
                {event.by || event.kind}
              </span>
              <span className={cx("min-w-0", levels[event.level] ?? tones[event.kind] ?? "text-soft")}>{event.text}</span>
            </li>
          );
        })}
      </ol>
    </div>
  );
}
