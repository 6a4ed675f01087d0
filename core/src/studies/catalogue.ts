/** Every study there is, by name. */
import { PlanTesterError } from "../errors.ts";
import { atr } from "./atr.ts";
import { bollinger } from "./bollinger.ts";
import type { StudyDefinition } from "./definition.ts";
import { ema } from "./ema.ts";
import { highest, lowest } from "./extremes.ts";
import { macd } from "./macd.ts";
import { rsi } from "./rsi.ts";
import { barsSinceOpen, sessionHigh, sessionLow, sessionOpen } from "./session.ts";
import { sma } from "./sma.ts";
import { standardDeviation } from "./standard-deviation.ts";
import { trueRange } from "./true-range.ts";
import { wilder } from "./wilder.ts";

export const STUDIES: readonly StudyDefinition[] = [
  sma,
  ema,
  wilder,
  rsi,
  atr,
  trueRange,
  bollinger,
  macd,
  highest,
  lowest,
  standardDeviation,
  sessionOpen,
  sessionHigh,
  sessionLow,
  barsSinceOpen,
];

const byName = new Map(STUDIES.map((study) => [study.name, study]));

/** @throws PlanTesterError bad-study when no study has this name; the message lists those there are. */
export function studyNamed(name: string): StudyDefinition {
  const found = byName.get(name);
  if (!found)
    throw new PlanTesterError("bad-study", `There is no study "${name}". There are: ${[...byName.keys()].join(", ")}.`, { study: name });
  return found;
}
