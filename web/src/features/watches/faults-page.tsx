/** Makes things go wrong at the practice venue, to see what watches and their policies make of it. */
import { NO_FAULTS, type VenueFaults, venueFaultsSchema } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { number } from "../../lib/format.ts";
import { boundsOf } from "../../lib/read-number.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { num, Page, td, tdText, th } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { OtherTradeRow } from "./other-trade-row.tsx";
import { PriceJumpRow } from "./price-jump-row.tsx";
import { VenueBar } from "./venue-bar.tsx";

type Name = keyof VenueFaults;

const FAULTS: readonly (readonly [name: Name, what: string, unit: string, means: string, first: number])[] = [
  ["refuseEntries", "Refuse entries", "orders", "The next so many entries that plans send are refused.", 1],
  ["refuseExits", "Refuse exits", "orders", "The next so many exits are refused; stops and targets at the venue go on.", 1],
  ["halveEntries", "Fill only half", "orders", "Of the next so many entries half is taken.", 1],
  ["loseReports", "Lose reports", "reports", "The next so many reports of fills, trades and ends never come.", 1],
  ["repeatReports", "Repeat reports", "reports", "They come twice.", 1],
  ["swapReports", "Swap reports", "reports", "Each comes behind the one after it.", 1],
  ["delayMs", "Delay every word", "ms", "Of real time. With the clock waiting for plans the market waits, too.", 500],
  ["skewSeconds", "Set its clock wrong", "s", "The venue's clock is so far ahead of the true time; below 0 behind it.", 90],
  ["breakSeconds", "Break the line", "s", "Every line is cut, and none is taken for so long. Orders at the venue go on.", 20],
];

export function FaultsPage() {
  const { data, error } = useQuery(queries.faults());
  const setVenueFaults = useChange("setVenueFaults");
  const restartVenue = useChange("restartVenue");
  const isQuiet = data && Object.values(data).every((value) => value === 0);
  return (
    <Page title="Faults of the practice venue" aside={<VenueBar />}>
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="the faults" /> : null}
      {data ? (
        <div className="mx-auto flex max-w-5xl flex-col gap-4 p-4">
          <p className="text-soft">
            A real venue fails now and then. Here it does on purpose: what watches make of it is in their logs, and what it cost is in their
            drift. How each watch answers is set when it starts.
          </p>
          <table className="w-full">
            <thead>
              <tr>
                <th className={th}>Fault</th>
                <th className={`${th} ${num}`}>Now</th>
                <th className={th}>Set to</th>
                <th className={`${th} w-full`}>What happens</th>
              </tr>
            </thead>
            <tbody>
              {FAULTS.map(([name, what, unit, means, first]) => (
                <Row
                  key={name}
                  {...{ name, what, unit, means, first }}
                  now={data[name]}
                  onSet={(value) => void setVenueFaults.run({}, { [name]: value })}
                />
              ))}
              <PriceJumpRow />
              <OtherTradeRow />
              <tr>
                <td className={td}>Kill the venue</td>
                <td className={td} />
                <td className={td}>
                  <Button variant="danger" disabled={restartVenue.isRunning} onClick={() => void restartVenue.run()}>
                    Kill it
                  </Button>
                </td>
                <td className={`${tdText} text-soft`}>As by kill -9: it starts again by itself, without its last moments.</td>
              </tr>
            </tbody>
          </table>
          <div>
            <Button disabled={isQuiet} onClick={() => void setVenueFaults.run({}, NO_FAULTS)}>
              No faults any more
            </Button>
          </div>
        </div>
      ) : null}
    </Page>
  );
}

interface RowProps {
  readonly name: Name;
  readonly what: string;
  readonly unit: string;
  readonly means: string;
  readonly first: number;
  readonly now: number;
  readonly onSet: (value: number) => void;
}

function Row({ name, what, unit, means, first, now, onSet }: RowProps) {
  const [value, setValue] = useState(first);
  return (
    <tr>
      <td className={td}>{what}</td>
      <td className={`${td} ${num} ${now === 0 ? "text-soft" : "font-semibold text-warn"}`}>
        {now === 0 ? "none" : `${number(now)} ${unit}`}
      </td>
      <td className={td}>
        <CheckedForm className="flex items-center gap-2" onSubmit={() => onSet(value)} aria-label={what}>
          <NumberInput
            aria-label={`${what}, ${unit}`}
            className="w-20"
            whole
            {...boundsOf(venueFaultsSchema.properties[name])}
            value={value}
            onChange={setValue}
          />
          <span className="w-12 text-soft">{unit}</span>
          <Button type="submit">Set</Button>
        </CheckedForm>
      </td>
      <td className={`${tdText} text-soft`}>{means}</td>
    </tr>
  );
}
