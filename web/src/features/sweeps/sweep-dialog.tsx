/** Ranges over inputs, the two stretches, the aim and the search; count, duration and memory are estimated before the start. */
import type { Market, SweepEstimate, SweepRequest } from "@plan-tester/contract";
import { countVariants, plainAim, settingSpecs } from "@plan-tester/contract";
import type { Aim, InputSpec, InputValue, Search } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { messageOf } from "../../data/api.ts";
import { offeredTimeframes, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { bytes, duration, number } from "../../lib/format.ts";
import { useSettled } from "../../lib/use-settled.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import type { Draft } from "../drafts/use-draft.ts";
import { offeredMarkets } from "../markets/shown-markets.ts";
import { sessionsIn, WalkForwardPart, type WalkWindows } from "../walk-forwards/walk-forward-part.tsx";
import { AimForm } from "./aim-form.tsx";
import { RangeList, type Ranges } from "./range-list.tsx";
import { defaultRange } from "./range-row.tsx";
import { SearchForm } from "./search-form.tsx";
import { type Stretch, StretchForm } from "./stretch-form.tsx";

export interface SweepDialogProps {
  readonly planId: string;
  readonly draft: Draft;
  readonly specs: readonly InputSpec[];
  readonly market: Market | undefined;
  readonly onClose: () => void;
  readonly onStarted: (id: string) => void;
  readonly onWalking: (id: string) => void;
}

/** Settings of a walk-forward with fewer trades in-sample are not chosen. */
const LEAST_TRADES = 5;

/** The half year after the in-sample stretch, as far as there is history. */
function stretchAfter(to: string, dates: readonly string[]): Stretch | null {
  const start = dates.findIndex((date) => date > to);
  if (start < 0) return null;
  return { from: dates[start]!, to: dates[Math.min(dates.length - 1, start + 125)]! };
}

/** Sessions that a sweep may reach: none of the holdout. */
const freshDates = (dates: readonly string[], reservedFrom: string): readonly string[] =>
  reservedFrom ? dates.filter((date) => date < reservedFrom) : dates;

/** An aim as short as it can be written. */
const writtenAim = (aim: Aim): SweepRequest["aim"] =>
  aim.terms.length === 1 && !aim.robust && aim.conditions.length === 0
    ? aim.terms[0]!.figure
    : { ...aim, terms: [...aim.terms], conditions: [...aim.conditions] };

export function SweepDialog({ planId, draft, specs, market, onClose, onStarted, onWalking }: SweepDialogProps) {
  const history = useQuery(queries.history(draft.settings.symbol));
  const symbols = offeredMarkets(useMarkets(), [draft.settings.symbol]).map(({ instrument }) => instrument.symbol);
  const settings = settingSpecs(draft.settings, { symbols, timeframes: offeredTimeframes(market) });
  const presentOf = (spec: InputSpec): InputValue => draft.inputs[spec.name] ?? spec.default;
  const [ranges, setRanges] = useState<Ranges>(() =>
    Object.fromEntries(
      specs
        .filter(({ kind }) => kind !== "time" && kind !== "text")
        .slice(0, 2)
        .map((spec) => [spec.name, defaultRange(spec, presentOf(spec))]),
    ),
  );
  const [aim, setAim] = useState<Aim>(plainAim("returnToDrawdown"));
  const [second, setSecond] = useState<Stretch | null | undefined>(undefined);
  const [constraintText, setConstraintText] = useState("");
  const [search, setSearch] = useState<Search | null>(null);
  const [walk, setWalk] = useState<WalkWindows | null>(null);
  const reservedFrom = useQuery(queries.plan(planId)).data?.reservedFrom ?? "";
  const suggested = stretchAfter(draft.settings.to, freshDates(history.data?.dates ?? [], reservedFrom));
  const outOfSample = second === undefined ? suggested : second;

  const list = Object.values(ranges);
  const request: SweepRequest = {
    planId,
    source: draft.source,
    inputs: draft.inputs,
    settings: draft.settings,
    ranges: list,
    outOfSample,
    aim: writtenAim(aim),
    constraints: constraintText
      .split(",")
      .map((text) => text.trim())
      .filter(Boolean),
    search,
  };
  const lattice = list.length > 0 ? countVariants(list) : 0;
  // The aim changes nothing that is estimated.
  const asked = JSON.stringify({ ...request, aim: "netProfit" });
  const settled = useSettled(asked);
  const estimate = useQuery({ ...queries.sweepEstimate(JSON.parse(settled)), enabled: lattice > 0 && settled === asked });

  // What was measured of another request says nothing of this one.
  const measured = settled === asked ? estimate.data : undefined;

  const createSweep = useChange("createSweep");
  const createWalkForward = useChange("createWalkForward");
  const start = async (): Promise<void> => {
    if (walk) {
      const { outOfSample: _out, ...rest } = request;
      const begun = await createWalkForward.run({}, { ...rest, ...walk, leastTrades: LEAST_TRADES });
      if (begun) onWalking(begun.reply.id);
      return;
    }
    const begun = await createSweep.run({}, request);
    if (begun) onStarted(begun.reply.id);
  };
  const busy = createSweep.isRunning || createWalkForward.isRunning;

  return (
    <Modal title="Sweep inputs" size="wide" onClose={onClose}>
      <CheckedForm className="flex flex-col gap-4" onSubmit={() => void start()}>
        <RangeList specs={specs} settings={settings} presentOf={presentOf} ranges={ranges} onChange={setRanges} />
        <Field
          label="Conditions and links between inputs"
          hint={`By name, commas between them: ${exampleOf(specs)}. A name that does not vary follows the others: ${linkOf(specs)}.`}
        >
          {(id) => (
            <TextInput id={id} value={constraintText} placeholder="none" onChange={(event) => setConstraintText(event.target.value)} />
          )}
        </Field>
        <StretchForm
          inSample={draft.settings}
          outOfSample={outOfSample}
          suggested={suggested}
          lastDate={market?.lastDate}
          onChange={setSecond}
        />
        <div className="grid grid-cols-1 gap-4 sm:grid-cols-[3fr_2fr]">
          <AimForm aim={aim} onChange={setAim} />
          <SearchForm search={search} onChange={setSearch} />
        </div>
        <WalkForwardPart
          sessions={sessionsIn(history.data?.dates ?? [], draft.settings.from, draft.settings.to)}
          walk={walk}
          onChange={setWalk}
        />
        <div className="-bottom-4 sticky -mb-4 flex items-center justify-between gap-4 border-rule border-t bg-sheet py-3">
          <p role="status" data-testid="estimate">
            {lattice === 0 ? (
              "Choose at least one input."
            ) : (
              <Foretold data={measured} isRefused={estimate.isError} request={request} inEachWindow={walk !== null} />
            )}
            {estimate.error ? <span className="block text-loss">{messageOf(estimate.error)}</span> : null}
          </p>
          <div className="flex gap-2">
            <Button onClick={onClose}>Cancel</Button>
            <Button type="submit" variant="primary" disabled={busy || lattice === 0 || estimate.isError}>
              {walk ? "Start the walk" : "Start"}
            </Button>
          </div>
        </div>
      </CheckedForm>
    </Modal>
  );
}

interface ForetoldProps {
  readonly data: SweepEstimate | undefined;
  readonly isRefused: boolean;
  readonly request: SweepRequest;
  readonly inEachWindow: boolean;
}

/** How many variants, how long and how much memory; the count is known before the rest is measured. */
function Foretold({ data, isRefused, request: { ranges, search }, inEachWindow }: ForetoldProps) {
  const lattice = countVariants(ranges);
  const variants = data?.variants ?? Math.min(search?.count ?? lattice, lattice);
  return (
    <>
      <strong>{number(variants)} variants</strong>
      {variants < lattice && search ? ` at most, of ${number(lattice)}` : ""}
      {inEachWindow ? " in each window" : ""}
      {data
        ? `, about ${duration(data.seconds * 1000)} on ${data.processes} cores, ${bytes(data.memoryBytes)} of memory`
        : isRefused
          ? ""
          : ", measuring …"}
    </>
  );
}

const numbersOf = (specs: readonly InputSpec[]): readonly InputSpec[] => specs.filter(({ kind }) => kind === "whole" || kind === "decimal");

/** A condition that could be written with the inputs that there are. */
function exampleOf(specs: readonly InputSpec[]): string {
  const [a, b] = numbersOf(specs);
  return a && b ? `${a.name} < ${b.name}` : "fast < slow";
}

function linkOf(specs: readonly InputSpec[]): string {
  const [a, b] = numbersOf(specs);
  return a && b ? `${b.name} = 2 * ${a.name}` : "slow = 3 * fast";
}
