/** One instrument: its facts beside its chart. */
import type { Market } from "@plan-tester/contract";
import { nominalMs, timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { marketOf, offeredTimeframes } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useDelete } from "../../data/use-delete.ts";
import { HERE, number, periodWords, timeAt } from "../../lib/format.ts";
import { commissionWords } from "../../lib/settings-words.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { useRememberedList } from "../../lib/site-data.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/field.tsx";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { type BarColumns, BarsList } from "./bars-list.tsx";
import { CopyDialog } from "./copy-dialog.tsx";
import { FactsDialog } from "./facts-dialog.tsx";
import { HoursView } from "./hours-view.tsx";
import { MarketChart } from "./market-chart.tsx";
import { QualityNote, QualityView } from "./quality-view.tsx";
import { SaveBars } from "./save-bars.tsx";
import { sessionWords } from "./session-words.ts";
import { StudyBar } from "./study-bar.tsx";
import { useStudyColumns } from "./use-study-columns.ts";

export function MarketPage() {
  const { symbol = "" } = useParams();
  const markets = useQuery(queries.markets());
  if (markets.error) return <Failure error={markets.error} />;
  if (!markets.data) return <Loading what="the instrument" />;
  const market = marketOf(markets.data, symbol);
  if (!market) return <Empty title={`There is no instrument ${symbol}`}>Markets lists those there are.</Empty>;
  return <OpenMarket key={symbol} market={market} />;
}

type Shown = "chart" | "list" | "hours" | "quality";
const shownAs = (text: string | null): Shown => (text === "list" || text === "hours" || text === "quality" ? text : "chart");

function OpenMarket({ market }: { readonly market: Market }) {
  const { instrument } = market;
  const offered = offeredTimeframes(market);
  const [timeframe, setTimeframe] = useState<string>(offered.includes("15m") ? "15m" : (offered[0] ?? market.timeframe));
  const [search, setSearch] = useSearchParams();
  const shown = shownAs(search.get("as"));
  const show = (as: Shown): void => setSearch(as === "chart" ? {} : { as }, { replace: true });
  const withBars = shown === "chart" || shown === "list";
  const [isEditing, setEditing] = useState(false);
  const [isCopying, setCopying] = useState(false);
  const deleteIt = useDelete();
  const navigate = useNavigate();
  const remove = async (): Promise<void> => {
    if (await deleteIt("market", instrument.symbol, instrument.symbol)) navigate("/markets");
  };
  const ticks = (value: number): string => `${value} ${value === 1 ? "tick" : "ticks"}`;
  const facts: readonly (readonly [string, ReactNode])[] = [
    ["Class", instrument.class],
    ["Tick size", String(instrument.tickSize)],
    ["Value of 1.0", `${number(instrument.pointValue)} ${instrument.currency}`],
    ["Value of a tick", `${number(instrument.tickSize * instrument.pointValue, 2)} ${instrument.currency}`],
    ["Least size, step", `${instrument.minQuantity}, ${instrument.quantityStep}`],
    ["Sessions", sessionWords(instrument.calendar)],
    ["Holidays", `${instrument.calendar.holidays.length} dates, ${instrument.calendar.earlyCloses.length} early closes`],
    ["Commission", commissionWords(market.instrument)],
    ["Spread", market.hasSpreadColumn ? "a column of the data" : ticks(instrument.costs.spreadTicks)],
    ["Slippage", ticks(instrument.costs.slippageTicks)],
    ["Bars", `${number(market.bars)} of ${timeframeLabel(market.timeframe)}, ${number(market.sessions)} sessions`],
    ["Coverage", periodWords({ from: market.firstDate, to: market.lastDate })],
    ["Doubtful", <QualityNote key="doubtful" symbol={instrument.symbol} onOpen={() => show("quality")} />],
    ["Fingerprint", market.dataHash.slice(0, 12)],
  ];
  return (
    <Page
      name={instrument.symbol}
      title={
        <>
          {instrument.symbol} <span className="font-normal text-soft">{instrument.name}</span>
        </>
      }
      aside={
        <>
          {withBars ? <SaveBars market={market} timeframe={timeframe} /> : null}
          <Button onClick={() => setEditing(true)}>Change facts</Button>
          <Button onClick={() => setCopying(true)}>Duplicate</Button>
          <Button variant="danger" onClick={() => void remove()}>
            Delete
          </Button>
          <Select aria-label="Shown as" value={shown} onChange={(event) => show(shownAs(event.target.value))} className="w-auto">
            <option value="chart">as a chart</option>
            <option value="list">as a list</option>
            <option value="hours">when it trades</option>
            <option value="quality">what is doubtful</option>
          </Select>
          {withBars ? (
            <Select aria-label="Timeframe" value={timeframe} onChange={(event) => setTimeframe(event.target.value)} className="w-28">
              {offered.map((option) => (
                <option key={option} value={option}>
                  {timeframeLabel(option)}
                </option>
              ))}
            </Select>
          ) : null}
        </>
      }
    >
      {isCopying ? <CopyDialog symbol={instrument.symbol} onClose={() => setCopying(false)} /> : null}
      {isEditing ? <FactsDialog instrument={instrument} onClose={() => setEditing(false)} /> : null}
      <div className="flex h-full min-h-0 flex-col md:flex-row">
        <dl className="grid shrink-0 grid-cols-[auto_1fr] content-start gap-x-4 gap-y-1.5 overflow-auto border-rule border-r p-4 text-[13px] md:w-72 lg:w-80 [&_dt]:text-soft">
          {facts.map(([name, value]) => (
            <div key={name} className="contents">
              <dt>{name}</dt>
              <dd className="text-right">{value}</dd>
            </div>
          ))}
          <div className="contents">
            <dt className="sr-only">Character</dt>
            <dd className="col-span-2 pt-2 text-soft">{instrument.note}</dd>
          </div>
          {market.factsChanges.map(({ atMs, changes }) => (
            <div key={atMs} className="contents">
              <dt className="col-span-2 pt-2 text-[12px]">
                Changed {timeAt(atMs, HERE)}: {changes.join(", ")}
              </dt>
            </div>
          ))}
        </dl>
        {shown === "quality" ? (
          <QualityView market={market} onOpen={(timeMs) => setSearch({ at: String(timeMs) })} />
        ) : shown === "hours" ? (
          <HoursView market={market} />
        ) : (
          <MarketBars
            market={market}
            timeframe={timeframe}
            isList={shown === "list"}
            at={Number(search.get("at") ?? Number.NaN)}
            onOpen={(timeMs) => setSearch({ at: String(timeMs) })}
          />
        )}
      </div>
    </Page>
  );
}

interface MarketBarsProps {
  readonly market: Market;
  readonly timeframe: string;
  readonly isList: boolean;
  /** When the bar begins that the chart shows first; NaN for the last. */
  readonly at: number;
  readonly onOpen: (timeMs: number) => void;
}

const NO_STUDIES: readonly string[] = [];

function MarketBars({ market, timeframe, isList, at, onOpen }: MarketBarsProps) {
  const { instrument, firstDate, lastDate } = market;
  const bars = useQuery(queries.bars(instrument.symbol, timeframe, firstDate, lastDate));
  const shownZone = useShownZone();
  const [studies, setStudies] = useRememberedList("market studies", NO_STUDIES);
  const columns = useStudyColumns(market, timeframe, studies);
  const longer = offeredTimeframes(market).filter((one) => nominalMs(one) > nominalMs(timeframe));
  if (bars.error) return <Failure error={bars.error} />;
  if (!bars.data) return <Loading what="bars" />;
  const shared = { market, bars: bars.data.columns as BarColumns, zone: shownZone(bars.data.meta.zone), studies: columns };
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="border-rule border-b px-3 py-1">
        <StudyBar columns={columns} onStudies={setStudies} {...{ timeframe, longer }} />
      </div>
      {isList ? (
        <BarsList key={timeframe} {...shared} timeframe={timeframe} onOpen={(bar) => onOpen(shared.bars.time[bar]!)} />
      ) : (
        <MarketChart key={timeframe} {...shared} at={at} />
      )}
    </div>
  );
}
