/** What became of each alert: sent and answered, waiting, failed and why. */
import type { AlertDelivery, DeliveriesQuery } from "@plan-tester/contract";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { queries } from "../../data/queries.ts";
import { count, HERE, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Select } from "../../ui/field.tsx";
import { td, tdText, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";

const STATES: readonly DeliveriesQuery["state"][] = ["", "waiting", "sent", "failed", "left out"];
const tones: Readonly<Record<AlertDelivery["state"], string>> = {
  sent: "",
  waiting: "text-warn",
  failed: "text-loss font-semibold",
  "left out": "text-loss",
};

export function Outcomes() {
  const [state, setState] = useState<DeliveriesQuery["state"]>("");
  const [place, setPlace] = useSearchParams();
  const watchId = place.get("watch") ?? "";
  const watches = useQuery(queries.watches());
  const pages = useInfiniteQuery(queries.deliveries({ state, watchId }));
  const rows = pages.data?.pages.flatMap(({ deliveries }) => deliveries) ?? [];
  const total = pages.data?.pages[0]?.total ?? 0;
  if (pages.error) return <Failure error={pages.error} />;
  if (!pages.data) return <Loading what="the outcomes" />;
  return (
    <>
      <div className="flex items-center gap-3 border-rule border-b px-4 py-1.5">
        <Select
          aria-label="Only one outcome"
          className="w-auto"
          value={state}
          onChange={({ target }) => setState(target.value as DeliveriesQuery["state"])}
        >
          {STATES.map((one) => (
            <option key={one} value={one}>
              {one || "every outcome"}
            </option>
          ))}
        </Select>
        <Select
          aria-label="Only one watch"
          className="w-auto max-w-56"
          value={watchId}
          onChange={({ target }) => setPlace({ tab: "outcomes", ...(target.value && { watch: target.value }) }, { replace: true })}
        >
          <option value="">every watch</option>
          {watches.data?.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
        <span className="text-[13px] text-soft">{count(total, "alert")}</span>
      </div>
      {rows.length === 0 ? (
        <Empty title={state || watchId ? "None of these" : "No alert yet"}>
          What rules send, and what became of it, is listed here for 90 days.
        </Empty>
      ) : null}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls is scrolled by keys */}
      <div tabIndex={0} className={cx("min-h-0 flex-1 overflow-auto", rows.length === 0 && "hidden")}>
        <table className="w-full">
          <thead>
            <tr>
              {["Time", "Watch", "Event", "Text", "Channel", "State", "Tries", "Outcome"].map((head) => (
                <th key={head} className={th}>
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
                <td className={td}>{timeAt(row.atMs, HERE)}</td>
                <td className={td}>
                  {row.event === "test" ? (
                    "Test"
                  ) : (
                    <Link className="hover:underline" to={`/watches/${row.watchId}`}>
                      {row.watchName}
                    </Link>
                  )}
                </td>
                <td className={td}>{row.event}</td>
                <td className={tdText}>{row.text}</td>
                <td className={td}>{row.channelName}</td>
                <td className={cx(td, tones[row.state])}>{row.state}</td>
                <td className={`${td} text-right`}>{row.tries || ""}</td>
                <td className={`${tdText} text-soft`}>{row.outcome}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {rows.length < total ? (
          <Button className="m-4" onClick={() => void pages.fetchNextPage()}>
            Show earlier ones
          </Button>
        ) : null}
      </div>
    </>
  );
}
