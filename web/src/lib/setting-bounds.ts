/** What the numbers of a run's settings may be, as the contract has them. */
import { kitSchema, runSettingsSchema } from "@plan-tester/contract";
import { boundsOf } from "./read-number.ts";

const { cash, costsScale, throughTicks, maxQuantity, maxPositions, seed, riskFree, margin, limits, testPosition } =
  runSettingsSchema.properties;
const [, { properties: ofMargin }] = margin.anyOf;
const [, { properties: ofLimit }] = limits.properties.drawdown.anyOf;
const [, { properties: ofPosition }] = testPosition.anyOf;
const { properties: ofKit } = kitSchema;
const { timeLimit, flat } = ofKit.long.properties;
const [, inBars] = timeLimit.anyOf;
const { min, max } = boundsOf(riskFree);

export const BOUNDS = {
  ...{ cash: boundsOf(cash), costsScale: boundsOf(costsScale), throughTicks: boundsOf(throughTicks), seed: boundsOf(seed) },
  ...{ maxQuantity: boundsOf(maxQuantity), maxPositions: boundsOf(maxPositions) },
  ...{ margin: boundsOf(ofMargin.value), maintenancePercent: boundsOf(ofMargin.maintenancePercent) },
  accountLimit: boundsOf(ofLimit.value),
  ...{ testUnits: boundsOf(ofPosition.units), testBar: boundsOf(ofPosition.bar) },
  riskFreePercent: { min: 100 * min!, max: 100 * max! },
  ...{
    entriesPerSession: boundsOf(ofKit.entriesPerSession),
    coolDownBars: boundsOf(ofKit.coolDownBars),
    kitMaxQuantity: boundsOf(ofKit.maxQuantity),
    kitDrawdown: boundsOf(ofKit.drawdown.properties.value),
    entryTicks: boundsOf(ofKit.entryLimit.properties.ticks),
    entryBars: boundsOf(ofKit.entryLimit.properties.bars),
    dailyLoss: boundsOf(ofKit.dailyLoss),
  },
  ...{ timeLimitBars: boundsOf(inBars.properties.bars), flatMinutes: boundsOf(flat.properties.minutes) },
};
