/** When what was just imported trades, and what it costs: as its bars show, or as an instrument that one has. */
import type { InstrumentFile, Market } from "@plan-tester/contract";
import type { CalendarFit, Instrument } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { percent } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select } from "../../ui/field.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { sessionWords } from "./session-words.ts";

const fitWords = ({ inside, present }: CalendarFit): string =>
  `${percent(inside)} of the bars lie inside, ${percent(present)} of the expected ones are there`;

export interface CalendarChoiceProps {
  readonly instrument: Instrument;
  readonly markets: readonly Market[];
}

export function CalendarChoice({ instrument, markets }: CalendarChoiceProps) {
  const { symbol } = instrument;
  const sessions = useQuery({ ...queries.foundSessions(symbol), enabled: true });
  const change = useChange("changeFacts", { shows: true });
  const [chosen, choose] = useState<string | null>(null);
  const [costsOf, setCostsOf] = useState("");
  if (sessions.error) return <Failure error={sessions.error} />;
  if (!sessions.data) return <Loading what="the sessions in the bars" />;
  const { found, known } = sessions.data;
  const offered = [
    ...(found ? [{ key: "", ...found, label: "as the bars show" }] : []),
    ...known.map((one) => ({ key: one.symbol, ...one, label: `as ${one.symbol}` })),
  ];
  const taken = offered.find(({ key }) => key === chosen) ?? offered[0];
  if (!taken)
    return <p>When it trades can’t be told from so few bars, or such long ones: Change facts, on its page, takes the sessions by hand.</p>;
  const like = markets.find((market) => market.instrument.symbol === costsOf)?.instrument;
  const take = (): void => {
    const facts = {
      ...instrument,
      calendar: { ...taken.calendar, isAssumed: false },
      ...(like && { class: like.class, costs: like.costs }),
    };
    // An instrument is a file of itself in which nothing is left out.
    void change.run({ symbol }, facts as unknown as InstrumentFile);
  };
  return (
    <fieldset className="flex flex-col gap-2 border-accent border-l-3 bg-accent-wash px-3 py-2">
      <legend className="sr-only">When it trades</legend>
      <p>
        <strong className="font-semibold">When it trades</strong> is not known yet.
      </p>
      {offered.map(({ key, label, ...fit }) => (
        <label key={key} className="flex items-baseline gap-2">
          <input type="radio" name="calendar" checked={taken.key === key} onChange={() => choose(key)} />
          <span>
            <span className="font-semibold">{label}</span>, {sessionWords(fit.calendar)}{" "}
            <span className="text-soft">({fitWords(fit)})</span>
          </span>
        </label>
      ))}
      <div className="flex items-end gap-3">
        <Field label="Class and costs" className="w-56">
          {(id) => (
            <Select id={id} value={costsOf} onChange={({ target }) => setCostsOf(target.value)}>
              <option value="">as they are: no costs</option>
              {markets
                .filter((market) => market.instrument.symbol !== symbol)
                .map((market) => (
                  <option key={market.instrument.symbol} value={market.instrument.symbol}>
                    as {market.instrument.symbol}
                  </option>
                ))}
            </Select>
          )}
        </Field>
        <Button variant="primary" onClick={take} disabled={change.isRunning}>
          Take these
        </Button>
      </div>
      {change.error ? <Failure error={change.error} /> : null}
    </fieldset>
  );
}
