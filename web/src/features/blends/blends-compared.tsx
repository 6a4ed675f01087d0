/** Two to four blends side by side: the same figures of each, and their curves. */
import type { Blend } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { currencyWord } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { number } from "../../lib/format.ts";
import { Page } from "../../ui/page.tsx";
import { Spark } from "../../ui/spark.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { BlendFacts, BlendHead, DaysWarning } from "./blend-head.tsx";
import { memberNames, sizeWords, WEIGHTING_WORDS } from "./blend-words.ts";
import { useBlendWork } from "./use-blend-work.ts";
import { useMembers } from "./use-members.ts";

export const MOST_BLENDS = 4;

export function BlendsCompared() {
  const [search] = useSearchParams();
  const ids = (search.get("blends") ?? "").split(",").filter(Boolean).slice(0, MOST_BLENDS);
  const { data, error } = useQuery(queries.blends());
  const blends = ids.flatMap((id) => data?.find((blend) => blend.id === id) ?? []);
  return (
    <Page title="Blends compared">
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="blends" /> : null}
      {data && blends.length === 0 ? <Empty title="Nothing to compare yet">Choose two to four blends in Blends.</Empty> : null}
      <div className="grid grid-cols-[repeat(auto-fit,minmax(17rem,1fr))] gap-x-8 gap-y-6 p-4">
        {blends.map((blend) => (
          <Compared key={blend.id} blend={blend} />
        ))}
      </div>
    </Page>
  );
}

function Compared({ blend }: { readonly blend: Blend }) {
  const { setup } = blend;
  const members = useMembers(setup);
  const { quick, slow, error } = useBlendWork(members.world, setup);
  const names = memberNames(setup.members, members.facts);
  const failed = error ?? members.errors.find((one) => one !== null);
  return (
    <section aria-label={blend.name} className="flex min-w-0 flex-col gap-2">
      <h2 className="font-semibold text-[15px]">
        <Link to={`/blends/${blend.id}`} className="hover:underline">
          {blend.name}
        </Link>
      </h2>
      <p className="text-[13px] text-soft">
        {number(setup.cash)} {currencyWord(setup.currency)}, sized {WEIGHTING_WORDS[setup.weighting]}
      </p>
      {failed ? <Failure error={failed} /> : null}
      {setup.members.length === 0 ? <p className="text-soft">It has no member yet.</p> : null}
      {!quick && !failed && setup.members.length > 0 ? <Loading what="its curves" /> : null}
      {quick ? (
        <>
          <Spark values={Array.from(quick.chart.joint)} width={260} label={`Profit of ${blend.name}`} />
          <BlendHead {...{ setup, quick, slow }} />
          <DaysWarning {...{ setup, quick }} />
          <ul className="text-[13px]" aria-label={`Members of ${blend.name}`}>
            {names.map((name, k) => (
              <li key={setup.members[k]!.runId} className={quick.units[k] === 0 ? "text-soft line-through" : ""}>
                {name}: {members.facts[k] ? sizeWords(quick.units[k]!, members.facts[k]!) : ""}
              </li>
            ))}
          </ul>
          <BlendFacts {...{ setup, quick, slow }} />
        </>
      ) : null}
    </section>
  );
}
