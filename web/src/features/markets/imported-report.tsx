/** What came of an import: how many bars, which lines were left out, what is doubtful. */
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { count, dayAt, duration, number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { CalendarChoice } from "./calendar-choice.tsx";
import { QualityNote } from "./quality-view.tsx";
import type { ImportResult } from "./use-import.ts";

export function ImportedReport({ report, onClose }: { readonly report: ImportResult; readonly onClose: () => void }) {
  const navigate = useNavigate();
  const { data: markets = [] } = useQuery(queries.markets());
  const instrument = marketOf(markets, report.symbol)?.instrument;
  const page = `/markets/${encodeURIComponent(report.symbol)}`;
  const look = (): void => {
    onClose();
    navigate(`${page}?as=quality`);
  };
  return (
    <div className="flex flex-col gap-3">
      <p>
        <strong>{number(report.bars)} bars</strong> of {report.symbol} from {dayAt(report.firstMs, "UTC")} to {dayAt(report.lastMs, "UTC")}
        {report.files > 1 ? ` in ${report.files} files` : ""}, in {duration(report.elapsedMs)}.{" "}
        {report.overlap
          ? `${number(report.overlap.fresh)} were new, ${number(report.overlap.same + report.overlap.differs)} there already. `
          : ""}
        {report.rejected === 0
          ? "Every line was a valid bar."
          : `${number(report.rejected)} of ${number(report.rows)} lines were left out.`}
        {report.repairs.kept > 0 ? ` ${count(report.repairs.kept, "repair")} of before lie over them.` : ""}
        {report.repairs.undone > 0 ? ` ${count(report.repairs.undone, "repair")} of before did not fit these bars, and were undone.` : ""}
        {report.outsideSessions > 0 ? ` ${number(report.outsideSessions)} bars lie outside the sessions of the calendar.` : ""}
      </p>
      <p>
        Doubtful about them: <QualityNote symbol={report.symbol} onOpen={look} />.
      </p>
      {instrument?.calendar.isAssumed ? <CalendarChoice instrument={instrument} markets={markets} /> : null}
      {report.problems.length > 0 ? (
        <ul className="max-h-64 overflow-auto border-rule border-y text-[13px]">
          {report.problems.map(({ line, text }) => (
            <li key={line} className="border-rule/60 border-b px-2 py-0.5">
              <span className="inline-block w-24 text-soft">Line {number(line)}</span> {text}
            </li>
          ))}
        </ul>
      ) : null}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Link
          to={page}
          onClick={onClose}
          className="inline-flex h-7 items-center rounded bg-accent px-2.5 font-semibold text-[13px] text-on-accent"
        >
          Open {report.symbol}
        </Link>
      </div>
    </div>
  );
}
