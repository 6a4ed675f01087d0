/** Whether the best of a sweep is to be believed: the verdict, its three findings, and what could be known at all. */
import type { LuckTest } from "@plan-tester/contract";
import { type Luck, luckOf, overfittingLimit, powerAt, speakingFor, type Verdict, verdictOf } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { queries } from "../../data/queries.ts";
import { number, percent } from "../../lib/format.ts";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { LuckPart } from "./luck-part.tsx";
import type { OverfitProps } from "./overfit.tsx";
import type { SweepDoubt } from "./overfit-worker.ts";
import { useSweepDoubt } from "./use-sweep-doubt.ts";

const VERDICTS: Readonly<Record<Verdict, readonly [word: string, meaning: string]>> = {
  for: ["For", "At least two of three findings speak for the best setting. It is worth a look on days that nothing was chosen by."],
  open: ["Open", "One of three findings speaks for the best setting: that is not enough to believe it, nor to drop it."],
  against: ["Against", "None of three findings speaks for the best setting. What it shows is what a search finds by luck."],
};

/** What a track of that length can tell at all. */
export function powerWords(verdict: Verdict | null, years: number): string {
  const share = powerAt(years, 1);
  const track = `With ${number(years, 1)} years a true annual ratio of 1 is believed in ${Math.round(100 * share)} of 100 searches, one of 2 in ${Math.round(100 * powerAt(years, 2))}.`;
  if (verdict === "for") return `${track} Luck is believed in about ${Math.round(100 * powerAt(years, 0))} of 100.`;
  return share < 0.5 ? `${track} So this says little against a small edge: another year of days would tell more.` : track;
}

export function SweepTrust({ sweepId, isDone, sessionsPerYear }: OverfitProps) {
  const { doubt, error, isBare, settings } = useSweepDoubt(sweepId, isDone, sessionsPerYear);
  const luck = useQuery({ ...queries.luck(sweepId), enabled: isDone });
  if (!isDone)
    return <Empty title="The sweep is not over">Whether its best is to be believed can be said once all variants are done.</Empty>;
  if (error || luck.error) return <Failure error={error ?? luck.error} />;
  if (isBare)
    return <Empty title="Nothing to tell it by">This sweep kept no daily returns, or has one variant only. Run it again to see it.</Empty>;
  if (!doubt || luck.data === undefined) return <Loading what="the verdict" />;
  return <Findings sweepId={sweepId} doubt={doubt} test={luck.data} settings={settings} />;
}

interface FindingsProps {
  readonly sweepId: string;
  readonly doubt: SweepDoubt;
  readonly test: LuckTest | null;
  readonly settings: number;
}

function Findings({ sweepId, doubt, test, settings }: FindingsProps) {
  const { probability, notSeen, ability, years, independent, deflated } = doubt;
  const found = test && luckOf(test.best, test.ratios);
  // A test that is under way does not decide yet.
  const isThrough = test !== null && (test.status === "complete" || test.status === "paused") && test.ratios.length >= 19;
  const findings = { luck: found && isThrough ? found.p : null, notSeen: notSeen?.p ?? null, overfitting: probability, years };
  const verdict = verdictOf(findings);
  const speaks = speakingFor(findings);
  return (
    <div className="grid h-full content-start gap-x-10 gap-y-4 overflow-auto p-4 xl:grid-cols-[minmax(0,48rem)_minmax(18rem,26rem)]">
      <p className="text-[15px] xl:col-span-2 xl:max-w-5xl" data-testid="sweep-verdict">
        <strong className="mr-2 text-[22px]">{verdict ? VERDICTS[verdict][0] : "Not decided"}</strong>
        {verdict ? VERDICTS[verdict][1] : "It depends on the luck test, which has not been made."} {powerWords(verdict, years)}
      </p>
      <div className="flex flex-col gap-4">
        <Finding title="Luck test" speaks={speaks.luck} figure={found ? pWords(found) : ""}>
          <LuckPart sweepId={sweepId} test={test} />
        </Finding>
        <Finding title="Days not seen" speaks={speaks.notSeen} figure={notSeen ? `p ${number(notSeen.p, 3)}` : ""}>
          {notSeen ? (
            <p>
              On days that the choice had not seen, it made {percent(notSeen.aYear)} a year, a ratio of {number(notSeen.ratio, 2)}. Of
              twelve blocks of days two are left out in each of 66 ways; {number(notSeen.chosen)} of the {number(settings)} settings were
              chosen so.
            </p>
          ) : (
            <p>There are too few days: 60 are needed.</p>
          )}
        </Finding>
        <Finding title="Probability of overfitting" speaks={speaks.overfitting} figure={percent(probability, 0)}>
          <p>
            Where half of the days chose, the other half put its choice at or below the middle in {percent(probability, 0)} of the ways. It
            speaks for the search below {percent(overfittingLimit(years), 0)}. This is no probability of luck.
          </p>
        </Finding>
      </div>
      <div className="flex flex-col gap-4">
        <table className="h-fit text-[13px]">
          <caption className="pb-1 text-left text-soft">Second row: rougher, or of all settings at once</caption>
          <tbody>
            {[
              ["Superior predictive ability, all settings counted (Hansen 2005)", ability ? `p ${number(ability.p, 3)}` : "–"],
              ["Settings that pass on their own at 95 % (Romano & Wolf 2005)", ability ? number(ability.passing.length) : "–"],
              ["Confidence with all trials counted, deflated (rough)", percent(deflated)],
              [`Independent settings that the ${number(settings)} amount to`, number(independent, 1)],
            ].map(([label, value]) => (
              <tr key={label}>
                <th scope="row" className="py-1 text-left font-normal text-soft">
                  {label}
                </th>
                <td className="text-right font-semibold">{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="text-[13px] text-soft">
          What these can’t show: edges that fade, settings tried outside this sweep, and whether it pays. The first tests memory, the second
          money: look at both. How often each is wrong was measured on worlds of known truth, with sweeps of 1,040 settings.
        </p>
      </div>
    </div>
  );
}

/** The exact p, and the smooth one beside it where markets are few. */
const pWords = ({ p, smooth }: Luck): string => `p ${number(p, 2)}${smooth === null ? "" : ` (smooth ${number(smooth, 3)})`}`;

interface FindingProps {
  readonly title: string;
  readonly speaks: boolean | null;
  readonly figure: string;
  readonly children: ReactNode;
}

function Finding({ title, speaks, figure, children }: FindingProps) {
  const word = speaks === null ? "not known yet" : speaks ? "speaks for it" : "does not speak for it";
  return (
    <section className="flex flex-col gap-1 border-rule border-l-3 pl-3" aria-label={title}>
      <h3 className="flex flex-wrap items-baseline gap-2">
        <span className="font-semibold">{title}</span>
        <span className={speaks === true ? "text-gain" : speaks === false ? "text-loss" : "text-soft"}>{word}</span>
        <span className="text-soft tabular-nums">{figure}</span>
      </h3>
      {children}
    </section>
  );
}
