/** A blend: the joint curve over its members, their sizes, and what to trade. */
import type { Blend, BlendSetup } from "@plan-tester/contract";
import { MAX_BLEND_MEMBERS } from "@plan-tester/contract";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { queries } from "../../data/queries.ts";
import { useCommands } from "../../lib/commands.ts";
import { fileName, saveFile } from "../../lib/files.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { Button } from "../../ui/button.tsx";
import { Select, TextInput } from "../../ui/field.tsx";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { sizeOfRun } from "../run-view/new-blend.ts";
import { AheadPart } from "./ahead-part.tsx";
import { BlendChart } from "./blend-chart.tsx";
import { BlendFacts, BlendHead, DaysWarning } from "./blend-head.tsx";
import { blendReportHtml } from "./blend-report.ts";
import { BlendSentence } from "./blend-sentence.tsx";
import { memberNames } from "./blend-words.ts";
import { CorrelationPart } from "./correlation-part.tsx";
import { FallsPart } from "./falls-part.tsx";
import { JointRun } from "./joint-run.tsx";
import { MembersTable } from "./members-table.tsx";
import { PartsPart } from "./parts-part.tsx";
import { SettingsToTrade, tradeRows } from "./settings-to-trade.tsx";
import { SpentWarning } from "./spent-warning.tsx";
import { type EditedBlend, useBlend } from "./use-blend.ts";
import { useBlendWork } from "./use-blend-work.ts";
import { useMembers } from "./use-members.ts";

export function BlendPage() {
  const { blendId = "" } = useParams();
  const { data, error } = useQuery({ ...queries.blend(blendId), refetchOnMount: "always", refetchOnWindowFocus: false });
  if (error) return <Page title="Blend">{<Failure error={error} />}</Page>;
  if (!data) return <Page title="Blend">{<Loading what="the blend" />}</Page>;
  return <OpenBlend key={blendId} blend={data} />;
}

function OpenBlend({ blend }: { readonly blend: Blend }) {
  const edited = useBlend(blend);
  const { body, saver } = edited;
  const { setup } = body;
  const members = useMembers(setup);
  const { quick, slow, error } = useBlendWork(members.world, setup);
  const names = memberNames(setup.members, members.facts);
  const labels = names.map((name, k) => `${k + 1} · ${name}`);
  const change = (part: Partial<BlendSetup>): void => saver.change({ setup: { ...setup, ...part } });
  /** Sizes under the hand begin with those that were found. */
  const setSize = (k: number, size: number): void =>
    change({
      weighting: "by hand",
      members: setup.members.map((member, j) => ({ ...member, size: j === k ? size : (quick?.units[j] ?? member.size) })),
    });
  const leaveOut = (k: number): void => change({ members: setup.members.map((member, j) => (j === k ? { ...member, size: 0 } : member)) });
  const report = (): void => {
    const rows = quick ? tradeRows({ setup, names, facts: members.facts, quick, slow }) : [];
    if (quick)
      saveFile(
        fileName(body.name, ".html"),
        blendReportHtml({ body, fingerprint: blend.fingerprint, names, quick, slow, rows, zone }),
        "text/html",
      );
  };
  const zone = useShownZone()(members.facts[0]?.instrument.calendar.zone ?? "UTC");
  const foreign = [...new Set(members.facts.flatMap((one) => (one && one.currency !== setup.currency ? one.currency : [])))];
  const isChosen = setup.weighting !== "by hand" && setup.weighting !== "as they ran";
  const isComing =
    setup.members.length > 0 && !members.world && members.errors.every((one) => one === null) && members.ratesMissing.length === 0;
  return (
    <Page title={<NameField {...edited} />} name={body.name} aside={<Acts {...edited} />}>
      <div className="flex flex-col gap-4 p-4">
        <SaveTrouble {...edited} />
        <BlendSentence setup={setup} foreign={foreign} onChange={change} />
        {error ? <Failure error={error} /> : null}
        {setup.members.length === 0 ? (
          <Empty title="No member yet">Add kept runs: of any plans, instruments and timeframes. Each comes with the size it ran at.</Empty>
        ) : null}
        {isComing || (members.world && !quick && !error) ? <Loading what="the members’ curves" /> : null}
        {quick ? (
          <>
            <BlendHead {...{ setup, quick, slow }} />
            <SpentWarning {...{ names }} facts={members.facts} />
            <DaysWarning {...{ setup, quick }} />
            <div className="flex h-[26rem] flex-wrap gap-x-6 max-[899px]:h-auto">
              <div className="flex min-w-96 flex-1 max-[899px]:h-[24rem]">
                <BlendChart {...{ labels, zone, isChosen }} chart={quick.chart} />
              </div>
              <div className="w-72 max-[899px]:w-full">
                <BlendFacts {...{ setup, quick, slow }} />
              </div>
            </div>
          </>
        ) : null}
        {setup.members.length > 0 ? (
          <MembersTable
            {...{ setup, names, quick, slow, facts: members.facts, errors: members.errors }}
            onSize={setSize}
            onRemove={(k) => change({ members: setup.members.filter((_member, j) => j !== k) })}
          />
        ) : null}
        <AddMember setup={setup} onChange={change} />
        {quick && setup.members.length > 1 ? (
          <>
            <div className="flex flex-wrap gap-x-8 gap-y-4">
              <CorrelationPart {...{ labels, quick, slow }} onLeaveOut={leaveOut} />
              <PartsPart {...{ slow, isChosen }} />
            </div>
            <div className="flex flex-wrap gap-x-8 gap-y-4">
              <FallsPart {...{ quick, labels, zone }} />
              <AheadPart {...{ setup, quick, slow }} />
            </div>
          </>
        ) : null}
        {setup.members.length > 0 ? <JointRun {...{ setup, names, quick, zone, name: body.name, facts: members.facts }} /> : null}
        {quick ? (
          <SettingsToTrade
            {...{ setup, names, quick, slow, id: blend.id, name: body.name, fingerprint: blend.fingerprint, facts: members.facts }}
            onReport={report}
          />
        ) : null}
        <NoteField {...edited} />
      </div>
    </Page>
  );
}

const STATE_WORDS = { saved: "saved", waiting: "changed", saving: "saving …", failed: "not saved", conflict: "not saved" } as const;

function Acts({ state, canUndo, saver }: EditedBlend) {
  const undo = (): void => saver.undo();
  useCommands(canUndo ? [{ id: "undo", label: "Take the last change back", keys: "Alt+z", act: undo }] : []);
  return (
    <>
      <span role="status" className={`text-[13px] ${state === "failed" || state === "conflict" ? "text-loss" : "text-soft"}`}>
        {STATE_WORDS[state]}
      </span>
      <Button disabled={!canUndo} title="Alt+Z" onClick={undo}>
        Undo
      </Button>
    </>
  );
}

function SaveTrouble({ state, error, saver }: EditedBlend) {
  const client = useQueryClient();
  if (!error) return null;
  return (
    <Failure error={error}>
      {state === "conflict" ? (
        <button
          type="button"
          className="underline"
          onClick={() => {
            saver.forget();
            client.clear();
            window.location.reload();
          }}
        >
          Load what is there, without the changes of this page
        </button>
      ) : (
        <button type="button" className="underline" onClick={() => void saver.save()}>
          Save again
        </button>
      )}
    </Failure>
  );
}

function NameField({ body, saver }: EditedBlend) {
  return (
    <TextInput
      aria-label="Name of the blend"
      className="w-72 font-semibold"
      value={body.name}
      maxLength={120}
      onChange={(event) => event.target.value.trim() && saver.change({ name: event.target.value })}
    />
  );
}

function NoteField({ body, saver }: EditedBlend) {
  return (
    <label className="flex max-w-3xl flex-col gap-1 text-[13px] text-soft">
      Note
      <textarea
        className="min-h-16 rounded border border-rule bg-sheet px-2 py-1 text-ink"
        maxLength={5000}
        value={body.note}
        onChange={(event) => saver.change({ note: event.target.value })}
      />
    </label>
  );
}

function AddMember({ setup, onChange }: { readonly setup: BlendSetup; readonly onChange: (change: Partial<BlendSetup>) => void }) {
  const client = useQueryClient();
  const recent = useQuery(queries.batch("", 0)).data?.runs ?? [];
  const known = new Set(setup.members.map(({ runId }) => runId));
  if (setup.members.length >= MAX_BLEND_MEMBERS)
    return <p className="text-[13px] text-soft">A blend has {MAX_BLEND_MEMBERS} members at most.</p>;
  const add = async (runId: string): Promise<void> => {
    const run = await client.fetchQuery(queries.run(runId));
    onChange({ members: [...setup.members, { runId, size: sizeOfRun(run) }] });
  };
  return (
    <Select aria-label="Add a member" className="w-80" value="" onChange={(event) => event.target.value && void add(event.target.value)}>
      <option value="">add a kept run …</option>
      {recent
        .filter(({ id }) => !known.has(id))
        .map(({ id, name, planTitle }) => (
          <option key={id} value={id}>
            {name} · {planTitle}
          </option>
        ))}
    </Select>
  );
}
