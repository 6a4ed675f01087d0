/** Whether the best of a sweep is to be believed: the verdict, its three findings, and what could be known at all. */
import type { SweepDetail } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { queries } from "../../data/queries.ts";
import { fileName, saveFile } from "../../lib/files.ts";
import { Button } from "../../ui/button.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { LuckPart } from "./luck-part.tsx";
import { sweepReportHtml } from "./sweep-report.ts";
import type { SweepViewProps } from "./sweep-view.ts";
import { CANT_SHOW, type FindingWords, speaksWord, trustWords } from "./trust-words.ts";
import { useSweepDoubt } from "./use-sweep-doubt.ts";

export interface SweepTrustProps {
  readonly sweep: SweepDetail;
  readonly view: SweepViewProps;
  readonly isDone: boolean;
  /** Of the instrument: what takes a ratio of a session to that of a year. */
  readonly sessionsPerYear: number;
}

export function SweepTrust({ sweep, view, isDone, sessionsPerYear }: SweepTrustProps) {
  const { doubt, error, isBare, settings } = useSweepDoubt(sweep.id, isDone, sessionsPerYear);
  const luck = useQuery({ ...queries.luck(sweep.id), enabled: isDone });
  if (!isDone)
    return <Empty title="The sweep is not over">Whether its best is to be believed can be said once all variants are done.</Empty>;
  if (error || luck.error) return <Failure error={error ?? luck.error} />;
  if (isBare)
    return <Empty title="Nothing to tell it by">This sweep kept no daily returns, or has one variant only. Run it again to see it.</Empty>;
  if (!doubt || luck.data === undefined) return <Loading what="the verdict" />;
  const test = luck.data;
  const words = trustWords(doubt, test, settings);
  const save = (): void =>
    saveFile(fileName(`Sweep of ${sweep.planTitle}`, " report.html"), sweepReportHtml({ sweep, view, words, test }), "text/html");
  return (
    <div className="grid h-full content-start gap-x-10 gap-y-4 overflow-auto p-4 xl:grid-cols-[minmax(0,48rem)_minmax(18rem,26rem)]">
      <p className="text-[15px] xl:col-span-2 xl:max-w-5xl" data-testid="sweep-verdict">
        <strong className="mr-2 text-[22px]">{words.head}</strong>
        {words.text}
      </p>
      <div className="flex flex-col gap-4">
        {words.findings.map((finding) => (
          <Finding key={finding.name} finding={finding}>
            {finding.name === "luck" ? <LuckPart sweepId={sweep.id} test={test} /> : null}
          </Finding>
        ))}
      </div>
      <div className="flex flex-col gap-4">
        <table className="h-fit text-[13px]">
          <caption className="pb-1 text-left text-soft">Second row: rougher, or of all settings at once</caption>
          <tbody>
            {words.second.map(([label, value]) => (
              <tr key={label}>
                <th scope="row" className="py-1 text-left font-normal text-soft">
                  {label}
                </th>
                <td className="text-right font-semibold">{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="text-[13px] text-soft">{CANT_SHOW}</p>
        <Button className="self-start" onClick={save}>
          Printable report
        </Button>
      </div>
    </div>
  );
}

function Finding({ finding, children }: { readonly finding: FindingWords; readonly children: ReactNode }) {
  const { title, speaks, figure, text } = finding;
  return (
    <section className="flex flex-col gap-1 border-rule border-l-3 pl-3" aria-label={title}>
      <h3 className="flex flex-wrap items-baseline gap-2">
        <span className="font-semibold">{title}</span>
        <span className={speaks === true ? "text-gain" : speaks === false ? "text-loss" : "text-soft"}>{speaksWord(speaks)}</span>
        <span className="text-soft tabular-nums">{figure}</span>
      </h3>
      {text ? <p>{text}</p> : null}
      {children}
    </section>
  );
}
