import { LOG_LEVELS, type LogLine } from "@plan-tester/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef, useState } from "react";
import { At } from "../../ui/at.tsx";
import { cx } from "../../ui/cx.ts";
import { Select, TextInput } from "../../ui/field.tsx";
import { Empty } from "../../ui/states.tsx";

/** The run's log, searched as one types. */
export function LogList({ lines, zone }: { readonly lines: readonly LogLine[]; readonly zone: string }) {
  const [search, setSearch] = useState("");
  const scroller = useRef<HTMLDivElement>(null);
  const [level, setLevel] = useState("all");
  const wanted = search.toLowerCase();
  const shown = lines.filter((line) => (level === "all" || line.level === level) && line.text.toLowerCase().includes(wanted));
  const virtual = useVirtualizer({ count: shown.length, getScrollElement: () => scroller.current, estimateSize: () => 24, overscan: 20 });
  if (lines.length === 0) return <Empty title="Nothing was logged">Write log("…") in a handler to see what the plan sees.</Empty>;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex gap-2 p-2">
        <TextInput
          aria-label="Search the log"
          placeholder="Search the log"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          className="max-w-72"
        />
        <Select aria-label="Level" value={level} onChange={(event) => setLevel(event.target.value)} className="max-w-32">
          <option value="all">all levels</option>
          {LOG_LEVELS.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Select>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto font-mono text-[12px]">
        <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const line = shown[index]!;
            return (
              <div
                key={index}
                className={cx(
                  "absolute inset-x-0 flex h-6 items-center gap-3 px-3",
                  line.level === "warning" && "text-warn",
                  line.level === "alert" && "font-semibold text-accent",
                )}
                style={{ transform: `translateY(${start}px)` }}
              >
                <At className="w-40 shrink-0 text-soft" ms={line.timeMs} zone={zone} />
                <span className="w-14 shrink-0 text-soft">{line.level}</span>
                <span className="truncate" title={line.text}>
                  {line.text}
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
