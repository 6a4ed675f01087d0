/** The plan was changed since its watch began: taken now, when nothing is open, or not at all. */
import type { WatchVersion as Version, WatchDetail } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";
import { DiffView } from "../versions/diff-view.tsx";

const bannerClass = "flex flex-wrap items-center gap-2 border-accent border-l-3 bg-sunk px-4 py-1.5";

/** Modules stand behind the plan's own text. */
const ownText = (source: string): string => source.split(/^(?=\/\/! module ")/m)[0] ?? source;

export function WatchVersion({ watch }: { readonly watch: WatchDetail }) {
  const { id, planId, newer, pending, positions } = watch;
  const [isShown, setShown] = useState(false);
  const plan = useQuery({ ...queries.plan(planId), enabled: newer !== null });
  const changeWatchPlan = useChange("changeWatchPlan");
  const send = (version: Version): void => void changeWatchPlan.run({ id }, version);
  const source = plan.data?.source;
  const answers =
    newer && source !== undefined ? (
      <>
        <Button disabled={changeWatchPlan.isRunning} onClick={() => send({ source, when: "now" })}>
          Take it now
        </Button>
        {positions.length > 0 ? (
          <Button disabled={changeWatchPlan.isRunning} onClick={() => send({ source, when: "when flat" })}>
            When nothing is open
          </Button>
        ) : null}
        <Button variant="quiet" disabled={changeWatchPlan.isRunning} onClick={() => send({ source, when: "never" })}>
          Not this one
        </Button>
      </>
    ) : null;
  return (
    <>
      {newer ? (
        <section aria-label="The plan was changed" className={bannerClass}>
          <span className="flex-1">
            The plan was changed since this watch took it: {newer.join(", ")}.{" "}
            <span className="text-soft">What it remembers starts anew; its position and orders are handed over.</span>
          </span>
          <Button variant="quiet" disabled={source === undefined} onClick={() => setShown(true)}>
            Differences
          </Button>
          {answers}
        </section>
      ) : null}
      {pending ? (
        <section aria-label="A version waits" className={bannerClass}>
          <span className="flex-1">Waits until nothing is open: {pending.join(", ")}.</span>
          <Button variant="quiet" onClick={() => send({ when: "never" })}>
            Go on without it
          </Button>
        </section>
      ) : null}
      {isShown && source !== undefined ? (
        <Modal title="What the watch runs, and the plan now" size="full" onClose={() => setShown(false)}>
          <div className="flex h-[68vh] flex-col gap-2">
            <div className="flex flex-wrap items-center justify-end gap-2">{answers}</div>
            <DiffView before={ownText(watch.source)} after={source} className="min-h-0 flex-1 border border-rule" />
          </div>
        </Modal>
      ) : null}
    </>
  );
}
