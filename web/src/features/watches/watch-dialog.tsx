/**
 * Sets plans to watch on the practice venue: from the Bench and its variants, a kept run, or picked runs of a basket. Says what
 * will run where, and how it may act.
 */
import { PLAIN_WATCH_OPTIONS, type WatchOptions } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useState } from "react";
import { useNavigate } from "react-router";
import { accountCurrency, currencyWord, instrumentOf, marketOf, offeredTimeframes, useMarkets } from "../../data/markets.ts";
import { useChange } from "../../data/use-change.ts";
import { count, number } from "../../lib/format.ts";
import { remembered } from "../../lib/site-data.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { FIRST_RULE, StartRuleFields, useTellOf } from "../alerts/start-rule.tsx";
import { EntryFields } from "./entry-fields.tsx";
import { PolicyFields } from "./policy-fields.tsx";
import { StartInputs } from "./start-inputs.tsx";
import { WatchOptionsFields } from "./watch-options-fields.tsx";
import { type EntryChoice, inputWords, marketWords, type WatchStart, withEntries } from "./watch-starts.ts";

export interface WatchDialogProps {
  readonly title: string;
  readonly starts: readonly WatchStart[];
  /** How many of them, from the first, are chosen to begin with. */
  readonly chosenFirst: number;
  /** Account at the venue that they are to share; each has one of its own where it is left out. */
  readonly account?: string;
  readonly onClose: () => void;
}

const REMEMBERED = "watch options";

/** As they were chosen last. */
function firstOptions(): WatchOptions {
  try {
    // What an earlier version remembered otherwise is refused by the server, in words.
    return { ...PLAIN_WATCH_OPTIONS, ...(JSON.parse(remembered.getItem(REMEMBERED) ?? "{}") as Partial<WatchOptions>) };
  } catch {
    return PLAIN_WATCH_OPTIONS;
  }
}

const MEANS: Readonly<Record<WatchOptions["mode"], string>> = {
  automatic: "It sends its own orders; nothing is asked first.",
  "ask first": "Each entry waits for your word and lapses if you give none; exits are sent.",
  "alerts only": "Nothing is sent: what it would do is noted.",
};

export function WatchDialog({ title, starts: given, chosenFirst, account, onClose }: WatchDialogProps) {
  const createWatch = useChange("createWatch");
  const markets = useMarkets();
  const navigate = useNavigate();
  const [starts, setStarts] = useState(given);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(() => new Set(given.slice(0, chosenFirst).map(({ key }) => key)));
  const [entries, setEntries] = useState<EntryChoice>({ units: null, limit: null });
  const [options, setOptions] = useState(() => ({ ...firstOptions(), ...(account && { account }) }));
  const [rule, setRule] = useState(FIRST_RULE);
  const tellOf = useTellOf();
  const [isStarting, setStarting] = useState(false);
  const wanted = starts.filter(({ key }) => chosen.has(key));
  const [first] = wanted;
  const one = wanted.length === 1 ? first : undefined;
  const setOne = (part: Partial<WatchStart>): void =>
    setStarts(starts.map((start) => (start.key === one?.key ? { ...start, ...part } : start)));
  const cashWords = ({ settings }: WatchStart): string => `${number(settings.cash)} ${currencyWord(accountCurrency(settings, markets))}`;
  const start = async (): Promise<void> => {
    remembered.setItem(REMEMBERED, JSON.stringify({ ...options, account: "" }));
    setStarting(true);
    const ids: string[] = [];
    for (const { key, name, planId, source, inputs, settings } of wanted) {
      const started = await createWatch.run(
        {},
        { planId, source, inputs, settings: withEntries(settings, entries), name: name.trim() || title, options },
      );
      if (!started) break;
      ids.push(started.reply.id);
      // What has started is not started again where a later one is refused.
      setChosen((before) => new Set([...before].filter((other) => other !== key)));
    }
    await tellOf(rule, ids);
    if (ids.length < wanted.length) return setStarting(false);
    onClose();
    void navigate(one ? `/watches/${ids[0]}` : "/watches");
  };
  return (
    <Modal
      size="wide"
      title={`Watch ${title}`}
      description="The plan goes to work on the practice venue: a simulated exchange that carries the market on past the end of the history."
      onClose={onClose}
    >
      <CheckedForm onSubmit={() => void start()} className="flex flex-col gap-3">
        {starts.length > 1 ? <Choices {...{ starts, chosen }} onChange={setChosen} /> : null}
        {first ? (
          <p>
            {one ? "It runs" : `${count(wanted.length, "watch", "watches")} run`} on{" "}
            <strong>
              {one
                ? [one.settings.symbol, ...one.settings.alsoOn].join(", ")
                : wanted.map(({ settings }) => marketWords(settings)).join("; ")}
            </strong>
            {one ? (
              <>
                {" "}
                in <strong>{timeframeLabel(one.settings.timeframe)}</strong> bars
              </>
            ) : null}{" "}
            with <strong>{[...new Set(wanted.map(cashWords))].join(" or ")}</strong> of practice money
            {one ? "" : account ? ", together," : " each"}, as the same program as its backtest with finer paths. {MEANS[options.mode]}
          </p>
        ) : null}
        {one ? <StartInputs key={one.key} start={one} onChange={(inputs) => setOne({ inputs })} /> : null}
        <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
          {one ? (
            <>
              <Field label="Name" className="col-span-2">
                {(id) => <TextInput id={id} value={one.name} maxLength={80} onChange={(event) => setOne({ name: event.target.value })} />}
              </Field>
              <div className="col-span-2 flex gap-2">
                <Field label="Instrument" className="flex-1">
                  {(id) => (
                    <Select
                      id={id}
                      value={one.settings.symbol}
                      onChange={({ target }) =>
                        setOne({
                          settings: {
                            ...one.settings,
                            symbol: target.value,
                            alsoOn: one.settings.alsoOn.filter((symbol) => symbol !== target.value),
                          },
                        })
                      }
                    >
                      {[...new Set([one.settings.symbol, ...markets.map(({ instrument }) => instrument.symbol)])].map((symbol) => (
                        <option key={symbol}>{symbol}</option>
                      ))}
                    </Select>
                  )}
                </Field>
                <Field label="Timeframe" className="flex-1">
                  {(id) => (
                    <Select
                      id={id}
                      value={one.settings.timeframe}
                      onChange={({ target }) => setOne({ settings: { ...one.settings, timeframe: target.value } })}
                    >
                      {[...new Set([...offeredTimeframes(marketOf(markets, one.settings.symbol)), one.settings.timeframe])].map(
                        (timeframe) => (
                          <option key={timeframe} value={timeframe}>
                            {timeframeLabel(timeframe)}
                          </option>
                        ),
                      )}
                    </Select>
                  )}
                </Field>
              </div>
            </>
          ) : null}
          <EntryFields
            entries={entries}
            instrument={one && one.settings.alsoOn.length === 0 ? instrumentOf(markets, one.settings.symbol) : undefined}
            onChange={setEntries}
          />
          <WatchOptionsFields options={options} onChange={(part) => setOptions({ ...options, ...part })} />
        </div>
        <StartRuleFields rule={rule} onChange={setRule} />
        <PolicyFields options={options} onChange={(part) => setOptions({ ...options, ...part })} />
        <p className="text-soft">
          Orders are filled by the rules of the backtest, and stay at the venue with their stop and target should this server stop.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" type="submit" disabled={isStarting || wanted.length === 0}>
            {isStarting ? "Starting…" : one || wanted.length === 0 ? "Start watching" : `Start ${wanted.length} watches`}
          </Button>
        </div>
      </CheckedForm>
    </Modal>
  );
}

interface ChoicesProps {
  readonly starts: readonly WatchStart[];
  readonly chosen: ReadonlySet<string>;
  readonly onChange: (chosen: ReadonlySet<string>) => void;
}

function Choices({ starts, chosen, onChange }: ChoicesProps) {
  return (
    <fieldset className="flex max-h-40 flex-col gap-1 overflow-auto">
      <legend className="text-[13px] text-soft">What goes to work</legend>
      {starts.map(({ key, from, settings, inputs }) => (
        <label key={key} className="flex items-baseline gap-2">
          <input
            type="checkbox"
            checked={chosen.has(key)}
            onChange={({ target }) => onChange(new Set(target.checked ? [...chosen, key] : [...chosen].filter((one) => one !== key)))}
          />
          <span>
            {from} <span className="text-[13px] text-soft">{[marketWords(settings), inputWords(inputs)].filter(Boolean).join(" · ")}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}
