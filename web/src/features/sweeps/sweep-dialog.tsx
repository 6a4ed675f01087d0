/** Ranges over inputs, the two stretches, the aim; count and duration are foretold before the start. */
import type { Market, SweepEstimate, SweepRange, SweepRequest, SweepSummary, WalkForwardSummary } from "@plan-tester/contract";
import { countVariants } from "@plan-tester/contract";
import type { InputSpec } from "@plan-tester/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { duration, number } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import type { Draft } from "../bench/use-draft.ts";
import { sessionsIn, WalkForwardPart, type WalkWindows } from "../walk-forwards/walk-forward-part.tsx";
import { AIMS } from "./aims.ts";
import { defaultRange, RangeRow } from "./range-row.tsx";

export interface SweepDialogProps {
  readonly planId: string;
  readonly draft: Draft;
  readonly specs: readonly InputSpec[];
  readonly market: Market | undefined;
  readonly onClose: () => void;
  readonly onStarted: (id: string) => void;
  readonly onWalking: (id: string) => void;
}

/** The half year after the in-sample stretch, as far as there is history. */
function stretchAfter(to: string, dates: readonly string[]): { from: string; to: string } | null {
  const start = dates.findIndex((date) => date > to);
  if (start < 0) return null;
  return { from: dates[start]!, to: dates[Math.min(dates.length - 1, start + 125)]! };
}

export function SweepDialog({ planId, draft, specs, market, onClose, onStarted, onWalking }: SweepDialogProps) {
  const numeric = specs.filter((spec) => spec.kind !== "time");
  const history = useQuery(queries.history(draft.settings.symbol));
  const client = useQueryClient();
  const [ranges, setRanges] = useState<Record<string, SweepRange>>(() =>
    Object.fromEntries(numeric.slice(0, 2).map((spec) => [spec.name, defaultRange(spec, draft.inputs[spec.name] ?? spec.default)])),
  );
  const [aim, setAim] = useState<SweepRequest["aim"]>("returnToDrawdown");
  const [second, setSecond] = useState<{ from: string; to: string } | null | undefined>(undefined);
  const [constraintText, setConstraintText] = useState("");
  const constraints = constraintText
    .split(",")
    .map((text) => text.trim())
    .filter(Boolean);
  const [count, setCount] = useState<number | null>(null);
  const search = count === null ? null : { count, seed: 1 };
  const [walk, setWalk] = useState<WalkWindows | null>(null);
  const [busy, setBusy] = useState(false);
  const outOfSample = second === undefined ? stretchAfter(draft.settings.to, history.data?.dates ?? []) : second;

  const list = Object.values(ranges);
  const request: SweepRequest = {
    planId,
    source: draft.source,
    inputs: draft.inputs,
    settings: draft.settings,
    ranges: list,
    outOfSample,
    aim,
    constraints,
    search,
  };
  const lattice = list.length > 0 ? countVariants(list) : 0;
  const estimate = useQuery({
    queryKey: ["estimate", JSON.stringify(request)],
    queryFn: () => api.post<SweepEstimate>("/sweeps/estimate", request),
    enabled: lattice > 0,
    retry: false,
    staleTime: 60_000,
  });

  const variants = estimate.data?.variants ?? (count === null ? lattice : Math.min(count, lattice));

  const start = async (): Promise<void> => {
    setBusy(true);
    try {
      if (walk) {
        const { outOfSample: _out, ...rest } = request;
        const begun = await api.post<WalkForwardSummary>("/walk-forwards", { ...rest, ...walk, leastTrades: 5 });
        await client.invalidateQueries({ queryKey: ["walk-forwards"], exact: true });
        onWalking(begun.id);
        return;
      }
      const sweep = await api.post<SweepSummary>("/sweeps", request);
      await client.invalidateQueries({ queryKey: ["sweeps"], exact: true });
      onStarted(sweep.id);
    } catch (error) {
      toast.error(messageOf(error));
      setBusy(false);
    }
  };

  return (
    <Modal title="Sweep inputs" size="wide" onClose={onClose}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          void start();
        }}
      >
        <fieldset>
          <legend className="pb-1 font-semibold">Inputs to vary</legend>
          {numeric.length === 0 ? <p className="text-soft">The plan declares no input that can be varied.</p> : null}
          {numeric.map((spec) => (
            <RangeRow
              key={spec.name}
              spec={spec}
              value={draft.inputs[spec.name] ?? spec.default}
              range={ranges[spec.name] ?? null}
              onChange={(range) =>
                setRanges((current) => {
                  const { [spec.name]: _old, ...rest } = current;
                  return range ? { ...rest, [spec.name]: range } : rest;
                })
              }
            />
          ))}
        </fieldset>
        <div className="grid grid-cols-1 gap-4 sm:grid-cols-2">
          <fieldset>
            <legend className="pb-1 font-semibold">In-sample</legend>
            <p>
              {draft.settings.from} to {draft.settings.to}
            </p>
            <p className="text-[13px] text-soft">The period of the Bench. Variants are ranked on it.</p>
          </fieldset>
          <fieldset>
            <legend className="pb-1 font-semibold">Out-of-sample</legend>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="size-4 accent-(--accent)"
                checked={outOfSample !== null}
                onChange={(event) => setSecond(event.target.checked ? stretchAfter(draft.settings.to, history.data?.dates ?? []) : null)}
              />
              Test every variant on a later stretch, unchanged
            </label>
            {outOfSample ? (
              <div className="mt-1 grid grid-cols-2 gap-2">
                <TextInput
                  type="date"
                  aria-label="Out-of-sample from"
                  value={outOfSample.from}
                  max={market?.lastDate}
                  onChange={(event) => event.target.value && setSecond({ ...outOfSample, from: event.target.value })}
                />
                <TextInput
                  type="date"
                  aria-label="Out-of-sample to"
                  value={outOfSample.to}
                  max={market?.lastDate}
                  onChange={(event) => event.target.value && setSecond({ ...outOfSample, to: event.target.value })}
                />
              </div>
            ) : null}
          </fieldset>
        </div>
        <div className="grid grid-cols-1 gap-4 sm:grid-cols-3">
          <Field label="Rank by">
            {(id) => (
              <Select id={id} value={aim} onChange={(event) => setAim(event.target.value as SweepRequest["aim"])}>
                {AIMS.map(({ key, label }) => (
                  <option key={key} value={key}>
                    {label}
                  </option>
                ))}
              </Select>
            )}
          </Field>
          <Field label="Conditions between inputs" hint={`By name, commas between them: ${exampleOf(numeric)}`}>
            {(id) => (
              <TextInput id={id} value={constraintText} placeholder="none" onChange={(event) => setConstraintText(event.target.value)} />
            )}
          </Field>
          <Field label="Try at most" hint="Spread evenly over the lattice; all of it when empty.">
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={1}
                max={200_000}
                placeholder="all"
                value={count ?? ""}
                onChange={(event) => setCount(event.target.value === "" ? null : Math.max(1, Math.round(Number(event.target.value))))}
              />
            )}
          </Field>
        </div>
        <WalkForwardPart
          sessions={sessionsIn(history.data?.dates ?? [], draft.settings.from, draft.settings.to)}
          walk={walk}
          onChange={setWalk}
        />
        <div className="flex items-center justify-between gap-4 border-rule border-t pt-3">
          <p role="status" data-testid="estimate">
            {lattice === 0 ? (
              "Choose at least one input."
            ) : (
              <>
                <strong>{number(variants)} variants</strong>
                {walk ? " in each window" : ""}
                {estimate.data
                  ? `, about ${duration(estimate.data.seconds * 1000)} on ${estimate.data.processes} cores`
                  : estimate.error
                    ? ""
                    : ", measuring …"}
              </>
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
      </form>
    </Modal>
  );
}

/** A condition that could be written with the inputs that there are. */
function exampleOf(specs: readonly InputSpec[]): string {
  const [a, b] = specs.filter(({ kind }) => kind === "whole" || kind === "decimal");
  return a && b ? `${a.name} < ${b.name}` : "fast < slow";
}
